import { openApi } from './document'
import { OPERATIONS } from './operations'

export { OPERATIONS }
/** @param version of the product */
export const openApiDocument = (version: string): object => openApi(OPERATIONS, version)

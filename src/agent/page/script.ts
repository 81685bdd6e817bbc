import { readFileSync } from 'node:fs'
import { join } from 'node:path'

let text: string | undefined
/** The text of page.ts, bundled by the launcher: it makes `oakPage` in a document. @throws when nothing was
 * bundled here */
export const pageScript = (): string => (text ??= readFileSync(join('build', 'page.js'), 'utf8'))

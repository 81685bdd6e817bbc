import { strToU8, zipSync } from 'fflate'
import type { GivenFile } from './unzip'

/** @returns a zip archive of these files; their text is UTF-8 */
export const zip = (files: GivenFile[]): Uint8Array =>
  zipSync(Object.fromEntries(files.map(({ file, source }) => [file, strToU8(source)])), { level: 6 })

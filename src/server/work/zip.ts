import { strToU8, zipSync } from 'fflate'
import { isPicture, type GivenFile } from './unzip'

/** @returns a zip archive of these files; their text is UTF-8, pictures are given in base64 */
export const zip = (files: GivenFile[]): Uint8Array =>
  zipSync(
    Object.fromEntries(
      files.map(({ file, source }) => [
        file,
        isPicture(file) ? Buffer.from(source, 'base64') : strToU8(source),
      ]),
    ),
    { level: 6 },
  )

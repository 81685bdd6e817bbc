import { describeTarget, type Target, type UploadFile } from '@/core/model'
import type { FileInPage } from '../page/dropping'
import { DriverFault } from './port'

/** Files go into fields for files, and on what takes them when they are dropped. */
export const takesNoFiles = (target: Target) =>
  new DriverFault(
    'target',
    `${describeTarget(target)} is neither a field for files nor takes files that are dropped on it`,
  )

export const bytesOfFile = ({ text, encoding }: UploadFile): Buffer => Buffer.from(text, encoding ?? 'utf8')

/** Of what forms are given most; by the ending, as browsers tell it. */
const MEDIA_TYPES: Record<string, string> = {
  csv: 'text/csv',
  gif: 'image/gif',
  jpeg: 'image/jpeg',
  jpg: 'image/jpeg',
  json: 'application/json',
  pdf: 'application/pdf',
  png: 'image/png',
  webp: 'image/webp',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  xml: 'text/xml',
  zip: 'application/zip',
}
export const mediaTypeOf = ({ name, encoding }: UploadFile): string =>
  MEDIA_TYPES[name.split('.').at(-1)!.toLowerCase()] ?? (encoding ? 'application/octet-stream' : 'text/plain')

/** As a page makes it: in any engine by the same type. */
export const filesInPage = (files: readonly UploadFile[]): FileInPage[] =>
  files.map((file) => ({
    ...file,
    ...(file.encoding && { text: bytesOfFile(file).toString('base64') }), // pages read no other than a whole one
    type: mediaTypeOf(file),
  }))

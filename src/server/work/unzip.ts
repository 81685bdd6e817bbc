/** Zip archives of others. What an archive says of itself is not believed: names are looked at, links
 * refused, and sizes counted as they unpack (format: PKWARE APPNOTE 6.3). */
import { strFromU8, Unzip, UnzipInflate } from 'fflate'

/** Of a picture, `source` is its bytes in base64. */
export type GivenFile = { file: string; source: string }
export const isPicture = (file: string): boolean => /(?:^|\/)pictures\/[^/]+\.png$/.test(file)
const isOurs = (file: string): boolean => /\.(ya?ml|csv|json)$/.test(file) || isPicture(file)
export type UnzipLimits = { files: number; bytes: number; /** Of a file. */ each: number }
export type Unzipped = { files: GivenFile[] } | { problem: string }

const CHUNK_BYTES = 64 * 1024
const CENTRAL = 0x02014b50
const CENTRAL_BYTES = 46
const END = 0x06054b50
const LINK = 0o120000
const KIND = 0o170000

class Refused extends Error {}

/** @returns the files of ours in it, or why nothing of it is taken */
export function unzip(bytes: Uint8Array, limits: UnzipLimits): Unzipped {
  try {
    requireNoLinks(bytes)
    return { files: unpack(bytes, limits) }
  } catch (error) {
    return { problem: error instanceof Refused ? error.message : 'it is no zip archive, or it is cut off' }
  }
}

function unpack(bytes: Uint8Array, { files: filesMost, bytes: bytesMost, each }: UnzipLimits): GivenFile[] {
  const files: GivenFile[] = []
  let seen = 0
  let total = 0
  const unzipper = new Unzip((entry) => {
    if (++seen > filesMost) throw new Refused(`it holds more than ${filesMost.toLocaleString('en')} files`)
    const problem = nameProblem(entry.name)
    if (problem) throw new Refused(`“${entry.name.slice(0, 200)}”: ${problem}`)
    if (entry.name.endsWith('/') || !isOurs(entry.name)) return
    const parts: Uint8Array[] = []
    let size = 0
    entry.ondata = (error, part, final) => {
      if (error) throw error
      size += part.length
      total += part.length
      if (size > each) throw new Refused(`“${entry.name}” unpacks to more than ${each / 1_000_000} MB`)
      if (total > bytesMost) throw new Refused(`it unpacks to more than ${bytesMost / 1_000_000} MB`)
      parts.push(part)
      if (!final) return
      const whole = Buffer.concat(parts)
      const source = isPicture(entry.name) ? whole.toString('base64') : strFromU8(whole)
      files.push({ file: entry.name, source })
    }
    entry.start()
  })
  unzipper.register(UnzipInflate)
  for (let at = 0; at < bytes.length; at += CHUNK_BYTES) {
    unzipper.push(bytes.subarray(at, at + CHUNK_BYTES), at + CHUNK_BYTES >= bytes.length)
  }
  if (seen === 0) throw new Refused('there is nothing in it, or it is no zip archive')
  return files
}

function nameProblem(name: string): string | undefined {
  if (name.startsWith('/') || /^[A-Za-z]:/.test(name)) return 'a name is not the way from the root of a disk'
  if (name.includes('\\')) return 'folders are written with /'
  if (name.split('/').includes('..')) return 'it leads out of the archive'
  return /[\u0000-\u001f\u007f]/.test(name) ? 'it has a character that names may not have' : undefined
}

/** Only the list at the end of an archive says what is a link. */
function requireNoLinks(bytes: Uint8Array): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let at = startOfList(view)
  while (at + CENTRAL_BYTES <= bytes.length && view.getUint32(at, true) === CENTRAL) {
    const [name, extra, comment] = [28, 30, 32].map((field) => view.getUint16(at + field, true)) as [
      number,
      number,
      number,
    ]
    const mode = view.getUint32(at + 38, true) >>> 16
    if ((mode & KIND) === LINK) {
      const text = strFromU8(bytes.subarray(at + CENTRAL_BYTES, at + CENTRAL_BYTES + name))
      throw new Refused(`“${text.slice(0, 200)}” is a link, and links are not followed`)
    }
    at += CENTRAL_BYTES + name + extra + comment
  }
}

/** @returns where the list begins; beyond the archive when it has none */
function startOfList(view: DataView): number {
  const least = Math.max(0, view.byteLength - 22 - 0xffff)
  for (let at = view.byteLength - 22; at >= least; at--) {
    if (view.getUint32(at, true) === END) return view.getUint32(at + 16, true)
  }
  throw new Refused('it is no zip archive, or it is cut off')
}

/** A file that a page has downloaded, for a person who steers the browser. */
import { lstat, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { DriverFault } from './port'

const MEGABYTE = 1_000_000
/** Of one that goes to a person through the server. */
export const TAKEN_MOST_BYTES = 20 * MEGABYTE

/** @param path of a file that the browser wrote
 * @throws {DriverFault} page: it is too large, or not there any more */
export async function readDownload(path: string): Promise<Uint8Array> {
  // what a page made of it may be no file
  const seen = await lstat(path).catch(() => undefined)
  if (!seen?.isFile()) throw new DriverFault('page', 'The file is not there any more')
  if (seen.size > TAKEN_MOST_BYTES)
    throw new DriverFault(
      'page',
      `The file has ${Math.round(seen.size / MEGABYTE)} MB; at most ${TAKEN_MOST_BYTES / MEGABYTE} MB ` +
        'are handed out',
    )
  return readFile(path)
}

/** Of those in a folder, by its name there. @throws {DriverFault} page */
export async function readDownloadIn(
  folder: string | undefined,
  names: readonly string[],
  name: string,
): Promise<Uint8Array> {
  if (folder === undefined || !names.includes(name))
    throw new DriverFault('page', 'No file of that name was downloaded')
  return readDownload(join(folder, name))
}

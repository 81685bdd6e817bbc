/** Files that the page has downloaded go to the person who steers, part by part. */
import type { LiveWord } from '@/core/live'
import type { AttemptLog } from '../interpreter/log'
import { DriverFault, type BrowserDriver } from '../driver/port'

/** Of one message of the line, before it is written as base64. */
const PART_BYTES = 1_500_000

/** @param hide takes secrets out: a file that has one is not handed out
 * @throws {DriverFault} page: it is not there, too large, or holds a secret */
export async function sendDownload(
  driver: BrowserDriver,
  name: string,
  { hide }: Pick<AttemptLog, 'hide'>,
  say: (word: LiveWord) => void,
): Promise<void> {
  if (!driver.downloaded) throw new DriverFault('page', 'This browser does not hand out its files')
  const bytes = Buffer.from(await driver.downloaded(name))
  const text = bytes.toString()
  if (hide(text) !== text) throw new DriverFault('page', `“${name}” holds a secret: it is not handed out`)
  const of = Math.max(1, Math.ceil(bytes.length / PART_BYTES))
  for (let part = 0; part < of; part++) {
    const data = bytes.subarray(part * PART_BYTES, (part + 1) * PART_BYTES).toString('base64')
    say({ say: 'file', name, part: part + 1, of, data })
  }
}

/** A screen, or a part of it, taken as it is and compared with one that was accepted. */
import { describeTarget, type Target } from '@/core/model'
import type { Box } from '@/core/execution'
import { DriverFault, type BrowserDriver, type Look } from './port'
import type { ComparedPicture, Eyes, ScreenWanted } from './eyes'

/** @returns nothing where this browser gives no screen
 * @throws {DriverFault} target: the part is not on the page; agent: the picture cannot be compared */
export async function compareScreen(
  driver: BrowserDriver,
  eyes: Eyes,
  look: (target: Target) => Promise<Look>,
  { of, ignore, accepted }: ScreenWanted,
): Promise<ComparedPicture | undefined> {
  const part = of && (await boxOf(look, of))
  if (of && !part) throw new DriverFault('target', `${describeTarget(of)} is not on the page`)
  const ignored = await Promise.all(ignore.map((target) => boxOf(look, target)))
  const shot = await (driver.exact ? driver.exact() : driver.screen())
  if (!shot) return undefined
  return eyes.compare(shot.bytes, {
    pageWidth: shot.width,
    ...(part && { part }),
    ignore: ignored.filter((box) => box !== undefined),
    ...(accepted && { accepted: { png: Buffer.from(accepted.png, 'base64'), ignore: accepted.ignore } }),
    isLossy: shot.mime === 'image/jpeg',
  })
}

const boxOf = async (look: (target: Target) => Promise<Look>, target: Target): Promise<Box | undefined> =>
  (await look(target)).found?.box

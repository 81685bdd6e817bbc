import type { WayToGo } from '@/core/model'
import { DriverFault } from './port'
import { reasonOf } from './reason'

/** A case has a window to go on in, whatever it closes. */
export const firstStays = () =>
  new DriverFault('script', 'this is the first window, and that stays: there is no other to close')

/** Goes where a browser's own buttons lead. Browsers say nothing when there is no page to go to: it is told
 * by the address, which stays.
 * @throws {DriverFault} page */
export async function goOn(
  where: WayToGo,
  url: () => Promise<string>,
  ways: Record<WayToGo, () => Promise<unknown>>,
): Promise<void> {
  const before = await url()
  await ways[where]().catch((error: unknown) => {
    throw new DriverFault('page', `the page does not come: ${reasonOf(error)}`)
  })
  if (where !== 'reload' && (await url()) === before)
    throw new DriverFault('page', `there is no page to go ${where} to`)
}

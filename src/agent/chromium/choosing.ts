import type { Locator } from 'playwright-core'
import { chosenOf } from '../driver/choices'
import { isUnderItsLabel } from './in-page'

/** Chooses these options of a list; of a tick, yes or no. */
export async function chooseIn(
  locator: Locator,
  options: readonly [string, ...string[]],
  limitMs: number,
): Promise<void> {
  const timeout = limitMs
  const isSelect = await locator.evaluate((element) => element.tagName === 'SELECT', undefined, { timeout })
  if (!isSelect) {
    await locator.scrollIntoViewIfNeeded({ timeout })
    // what a label has drawn over its own field is no cover, as the library takes it to be
    const force = await locator.evaluate(isUnderItsLabel, undefined, { timeout })
    return locator.setChecked(!['no', 'off', 'false'].includes(options[0]), { timeout, force })
  }
  const list = await locator.evaluate((element) => ({
    several: (element as HTMLSelectElement).multiple,
    options: [...(element as HTMLSelectElement).options].map(({ label, value }) => ({ label, value })),
  }))
  await locator.selectOption(chosenOf(list, options), { timeout })
}

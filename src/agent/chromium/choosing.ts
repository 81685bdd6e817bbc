import type { Locator } from 'playwright-core'
import { chosenOf } from '../driver/choices'
import type { ElementFunctions } from '../page/engine'

/** Chooses these options of a list; of a tick, yes or no. */
export async function chooseIn(
  locator: Locator,
  { list, isUnderItsLabel }: ReturnType<ElementFunctions['choiceOf']>,
  options: readonly [string, ...string[]],
  limitMs: number,
): Promise<void> {
  const timeout = limitMs
  if (list) {
    await locator.selectOption(chosenOf(list, options), { timeout })
    return
  }
  // what a label has drawn over its own field is no cover, as the library takes it to be
  await locator.setChecked(!['no', 'off', 'false'].includes(options[0]), { timeout, force: isUnderItsLabel })
}

/** Targets that are told by how a text is compared, or by other elements: what finds them in the other
 * browsers (page.ts) does here too, as a selector engine of playwright-core. Plain targets go by its own
 * selectors, which are faster. */
import { selectors, type Frame, type Locator } from 'playwright-core'
import { TARGET_PLACES, type Target } from '@/core/model'
import { pageScript } from '../page/script'

const NAME = 'oak'
let registered: Promise<void> | undefined

/** Has to come before the first browser context. */
export const registerFinder = (): Promise<void> =>
  (registered ??= selectors.register(NAME, { content: engine() }, { contentScript: true }))

/** The body of a selector comes as it was written: JSON in a JSON text, so that nothing in it is taken for
 * the syntax of selectors. */
const engine = () => `(() => {
  ${pageScript()}
  const find = (body) => oakPage.find(...JSON.parse(JSON.parse(body)))
  return { query: (_, body) => find(body)[0] ?? null, queryAll: (_, body) => find(body) }
})()`

export const needsFinder = (target: Target): boolean =>
  (target.match !== undefined && target.match !== 'whole') ||
  target.number !== undefined ||
  TARGET_PLACES.some((place) => target[place] !== undefined)

export const finderOf = (frame: Frame, target: Target, way: string): Locator =>
  frame.locator(`${NAME}=${JSON.stringify(JSON.stringify([way, target]))}`)

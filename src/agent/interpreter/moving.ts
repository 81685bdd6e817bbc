/** Moves what is seen: within a page, and between windows. */
import type { StepOf, Target } from '@/core/model'
import type { WindowSeen } from '../driver/port'
import { StepFault } from './fault'
import { absence, graceOf, poll } from './looking'
import { filledTarget, filledText, limitOf, type Done, type StepParts } from './parts'

/** At the end of a list: this long more may be on its way. */
const MORE_COMES_MS = 400

/** Of a list that is drawn as one gets there: a part further each time, until it is there or nothing moves.
 * */
export async function scroll(parts: StepParts, step: StepOf<'scroll'>): Promise<Done> {
  const { driver } = parts
  const limitMs = limitOf(parts, step)
  if (step.to) return { found: await driver.scrollTo(filledTarget(parts, step.to), limitMs) }
  const within = step.in && filledTarget(parts, step.in)
  if (!step.until) {
    await driver.scrollBy(step.by ?? 0, within, limitMs)
    return {}
  }
  const sought = filledTarget(parts, step.until)
  const look = async () => {
    const seen = await driver.look(sought)
    if (seen.count > 0) return { seen, ends: true }
    const moved = await driver.scrollBy(undefined, within, limitMs)
    return { seen, ends: !moved && (await isStill(parts, within, limitMs)) }
  }
  const { last } = await poll(parts, limitMs, look, ({ ends }) => ends, graceOf(sought))
  if (last.seen.count === 0) throw new StepFault({ kind: 'target', message: absence(sought, last.seen) })
  return { found: await driver.scrollTo(sought, limitMs) }
}

/** At the end of a list more may come in a moment. */
async function isStill({ driver, pace }: StepParts, within: Target | undefined, limitMs: number) {
  await pace.pause(MORE_COMES_MS)
  return !(await driver.scrollBy(undefined, within, limitMs))
}

export async function changeWindow(parts: StepParts, step: StepOf<'window'>): Promise<void> {
  const { driver } = parts
  const limitMs = limitOf(parts, step)
  if (step.to === 'close') return driver.closeWindow(limitMs)
  if (step.to === 'first') return driver.showWindow(0, limitMs)
  const text = filledText(parts, step.text ?? '')
  const wanted = (windows: readonly WindowSeen[]): number => {
    if (step.to === 'newest') return windows.length > 1 ? windows.length - 1 : -1
    return windows.findLastIndex(({ title, url }) => (step.to === 'titled' ? title : url).includes(text))
  }
  const { last, holds } = await poll(
    parts,
    limitMs,
    () => driver.windows(),
    (windows) => wanted(windows) >= 0,
  )
  if (holds) return driver.showWindow(wanted(last), limitMs)
  const there = last.map(({ title, url }) => `“${title}” (${url})`).join(', ')
  throw new StepFault({ kind: 'page', message: `there is no such window; there is: ${there}` })
}

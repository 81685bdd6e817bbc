/** An element that was found: where it is, and why nothing could be done with it. */
import type { Page } from 'playwright-core'
import type { Target } from '@/core/model'
import type { Box } from '@/core/execution'
import { DriverFault } from '../driver/port'
import { reasonOf } from '../driver/reason'
import { ask, type Answers, type Question } from './asking'
import { usualLocator, type Located } from './locate'

/** Time limit of a query about an element that exists; long enough for a machine that is busy with other
 * browsers. */
export const LOOK_MS = 2000
/** Of a question that is asked without knowing whether there is such an element. */
const AT_ONCE_MS = 150

/** What an action ended with, in our words.
 * @param dialog words of one that is open over the page */
export async function whyNot(
  error: unknown,
  located: Located | undefined,
  dialog: string | undefined,
): Promise<unknown> {
  const [inDialog, cover] = located
    ? await ask(located.locator, [['isInDialog'], ['cover']], LOOK_MS).catch(() => [false, null])
    : [false, null]
  if (dialog && !inDialog) return new DriverFault('dialog', `a dialog “${dialog}” is open over the page`)
  if (error instanceof DriverFault || !located) return error
  return new DriverFault('target', cover ? `it is covered: the point belongs to ${cover}` : reasonOf(error))
}

/** Asks at once, in one message, without counting first: the usual case is that the first way finds one
 * element of the only document, and the library refuses several.
 * @returns `undefined` when it is not so, or not yet */
export async function atOnce<const Q extends readonly Question[]>(
  page: Page,
  target: Target,
  questions: Q,
): Promise<{ located: Located; box: Box | undefined; answers: Answers<Q> } | undefined> {
  const located = page.frames().length === 1 ? usualLocator(page.mainFrame(), target) : undefined
  if (!located) return undefined
  return boxAndAnswers(located, questions, AT_ONCE_MS).then(
    (found) => ({ located, ...found }),
    () => undefined,
  )
}

/** Where an element is, in CSS pixels of the whole page's view, and what else is asked of it.
 * @throws when it went away */
export async function boxAndAnswers<const Q extends readonly Question[]>(
  { locator, inFrame }: Located,
  questions: Q,
  limitMs: number,
): Promise<{ box: Box | undefined; answers: Answers<Q> }> {
  if (!inFrame) {
    const [box, ...answers] = await ask(locator, [['box'], ...questions] as const, limitMs)
    return { box, answers: answers as Answers<Q> }
  }
  // asked in its document, an element would give its place in the frame
  const box = await locator.boundingBox({ timeout: limitMs })
  return {
    box: box
      ? { x: Math.round(box.x), y: Math.round(box.y), w: Math.round(box.width), h: Math.round(box.height) }
      : undefined,
    answers: await ask(locator, questions, limitMs),
  }
}

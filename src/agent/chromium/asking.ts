/** Asks the functions of page.ts, the same that the other engines ask. They run beside the scripts of the
 * page, which neither see nor change them.
 *
 * The library evaluates only among those scripts, where an element has to be carried over first: ten messages
 * for each question. What it reads by a selector it reads on the other side, in one. So a question is a
 * selector: its engine answers with an element that is in no document and has the answer for its text. */
import { selectors, type Frame, type Locator } from 'playwright-core'
import type { Target } from '@/core/model'
import type { ElementFunctions, PageFunctions } from '../page/engine'
import { pageScript } from '../page/script'

const ENGINE = 'oak'
/** A question about the page may take this long. */
const PAGE_MS = 5000
let registered: Promise<void> | undefined

/** Has to come before the first browser context. */
export const registerEngine = (): Promise<void> =>
  (registered ??= selectors.register(ENGINE, { content: engine() }, { contentScript: true }))

/** Evaluated in each document, so what answers is read only when there is a question. */
const engine = () => `(() => {
  const script = ${JSON.stringify(`${pageScript()}; oakPage`)}
  let known
  const page = () => (known ??= (0, eval)(script))
  const ways = {
    find: (_, way, target) => page().find(way, target),
    ask: (element, questions) => {
      const answer = element.ownerDocument.createElement('i')
      answer.textContent = JSON.stringify(
        questions.map(([of, name, ...given]) =>
          (of === 'element' ? page()[name](element, ...given) : page()[name](...given)) ?? null))
      return [answer]
    },
  }
  const all = (root, body) => {
    const [way, ...given] = JSON.parse(JSON.parse(body))
    return ways[way](root, ...given)
  }
  return { query: (root, body) => all(root, body)[0] ?? null, queryAll: all }
})()`

/** JSON in a JSON text, so that nothing in it is taken for the syntax of selectors. */
const selectorOf = (...given: readonly unknown[]) => `${ENGINE}=${JSON.stringify(JSON.stringify(given))}`

/** What one way of a target finds, as page.ts does. */
export const foundBy = (frame: Frame, way: string, target: Target): Locator =>
  frame.locator(selectorOf('find', way, target))

export type Question = {
  [K in keyof ElementFunctions]: [K, ...Parameters<ElementFunctions[K]>]
}[keyof ElementFunctions]
export type Answers<Q extends readonly Question[]> = {
  [I in keyof Q]: ReturnType<ElementFunctions[Q[I][0]]>
}

/** Asks about an element, all in one message. @throws when it does not come in time */
export async function ask<const Q extends readonly Question[]>(
  element: Locator,
  questions: Q,
  limitMs: number,
): Promise<Answers<Q>> {
  const all = questions.map((question) => ['element', ...question])
  return (await answersOf(element, all, limitMs)) as Answers<Q>
}

/** Asks about a document. */
export async function askPage<K extends keyof PageFunctions>(
  frame: Frame,
  name: K,
  ...given: Parameters<PageFunctions[K]>
): Promise<ReturnType<PageFunctions[K]>> {
  const [answer] = await answersOf(frame.locator(':root'), [['page', name, ...given]], PAGE_MS)
  return answer as ReturnType<PageFunctions[K]>
}

async function answersOf(asked: Locator, questions: unknown[][], limitMs: number): Promise<unknown[]> {
  const answer = asked.locator(selectorOf('ask', questions))
  return JSON.parse((await answer.textContent({ timeout: Math.max(1, limitMs) })) ?? '[]') as unknown[]
}

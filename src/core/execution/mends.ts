/** What a log says is to be mended in its case: targets that were found by another way than their first. */
import { sentenceText } from '../model'
import type { AttemptEvent } from './work'

/** `path`: of the step; `words`: what it did; `note`: by which way it was found, and what to mend. */
export type Mend = { path: string; words: string; note: string }

const MENDS_MOST = 8
/** As agents say it, of the page and of the screen. */
const FINDS_NO_MORE = 'finds it no more'

/** The first of each, in the order of the log: a loop says the same again and again. */
export function mendsIn(events: readonly AttemptEvent[]): Mend[] {
  const words = new Map<string, string>()
  const found = new Map<string, Mend>()
  for (const event of events) {
    if (event.type === 'step-started') words.set(event.path, sentenceText(event.words))
    if (event.type !== 'step-ended' || !event.note?.includes(FINDS_NO_MORE)) continue
    const said = words.get(event.path) ?? ''
    const key = `${said}\n${event.note}`
    if (!found.has(key) && found.size < MENDS_MOST)
      found.set(key, { path: event.path, words: said, note: event.note })
  }
  return [...found.values()]
}

/** What the reader of a long log shows first, kept beside it: reading all of the log takes about a second. */
import type { LineAnswer, OutlineWindow } from '@/core/execution'
import { LINES_PAGE } from '@/core/view-models'
import { openingOf } from '@/db/logs'
import type { Context } from '../context'
import type { LogAnswers, LogAsk, LogHead } from './kept-logs'

/** To be raised when anything of an answer of `readLog` changes: openings are made anew then. */
export const VERSION = 1

/** The line the reader begins at, and the page of lines it is on. */
export type Opening = { head: LogHead; line?: { path: string; answer: LineAnswer; around: OutlineWindow } }

/** The answer, where it is one of what is shown first. */
export async function openingAnswer<A extends LogAsk>(
  { db }: Pick<Context, 'db'>,
  id: string,
  ask: A,
): Promise<LogAnswers[A['ask']] | undefined> {
  if (ask.ask !== 'head' && !isWhole(ask)) return undefined
  const opening = (await openingOf(db, id, VERSION)) as Opening | undefined
  return opening && (answerOf(opening, ask) as LogAnswers[A['ask']] | undefined)
}

const isWhole = (ask: LogAsk): boolean =>
  (ask.ask === 'line' || ask.ask === 'window') && !ask.fold && ask.only === null && !ask.byPage

function answerOf({ head, line }: Opening, ask: LogAsk): LogHead | LineAnswer | OutlineWindow | undefined {
  if (ask.ask === 'head') return head
  if (ask.ask === 'line') return line?.path === ask.path ? line.answer : undefined
  if (ask.ask !== 'window' || ask.find !== '' || ask.count !== LINES_PAGE) return undefined
  return line?.around.from === ask.from ? line.around : undefined
}

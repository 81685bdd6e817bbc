/** What waits to be sent, why, and when it is tried again. */
import type { OutboxEntry } from '@/core/view-models'
import { note } from '@/db/audit'
import { waitingToBeSent } from '@/db/outbox'
import type { Context } from '../context'
import { enqueueMessages, SAY_AT_TRACKER } from './messages'
import { enqueueSends, SEND_DEFECT } from './queue'

const [SHOWN_MOST, WORDS_MOST] = [300, 160]
const KEYS = { defect: `${SEND_DEFECT}-`, message: `${SAY_AT_TRACKER}-` }
const STATE_WORDS: Record<string, string> = { open: 'Opens it again', closed: 'Closes it' }

export const outboxViewModel = async ({ db }: Pick<Context, 'db'>): Promise<OutboxEntry[]> =>
  (await waitingToBeSent(db, KEYS, SHOWN_MOST)).map(
    ({ text, state, seenState, otherState, mailTo, ...entry }) => ({
      ...entry,
      what:
        text === null
          ? 'The defect'
          : [state && `${STATE_WORDS[state]}:`, text.slice(0, WORDS_MOST)].filter(Boolean).join(' '),
      to: mailTo ?? 'the tracker',
      conflict: otherState === null ? null : { seen: seenState ?? '', now: otherState, wanted: state ?? '' },
    }),
  )

/** All that waits is tried now; what waits for a decision still does. @returns of how many defects */
export const tryAllNow = ({ db }: Pick<Context, 'db'>, who: string): Promise<number> =>
  db.transaction(async (tx) => {
    const waiting = await waitingToBeSent(tx, KEYS, SHOWN_MOST)
    const of = (isMessage: boolean) => [
      ...new Set(
        waiting.flatMap(({ defectId, messageId }) => ((messageId !== null) === isMessage ? [defectId] : [])),
      ),
    ]
    const [defects, messages] = [of(false), of(true)]
    if (defects.length > 0) await enqueueSends(tx, defects)
    if (messages.length > 0) await enqueueMessages(tx, messages)
    await note(tx, who, 'outbox.try', 'all', { waiting: waiting.length })
    return new Set([...defects, ...messages]).size
  })

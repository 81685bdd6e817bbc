/** The same for many defects at once. Each is done, or left with why; the others are done all the same. */
import { SEVERITIES } from '@/core/tracker'
import { plural } from '@/core/view-models'
import { note } from '@/db/audit'
import { changeSeverities, defectsByIds, markAllToSend, type DefectRow } from '@/db/defects'
import { notify } from '@/db/notify'
import { addTrackerMessages } from '@/db/tracker-messages'
import type { Context } from '../context'
import { validatorOf } from '../http/validator'
import { enqueueMessages, expectedStates, messageSchema, type SaidOfDefect } from './messages'
import { enqueueSends } from './queue'

const AT_ONCE_MOST = 200
const ID = { type: 'integer', minimum: 1, maximum: 2_147_483_647 } as const
const IDS = { type: 'array', items: ID, minItems: 1, maxItems: AT_ONCE_MOST, uniqueItems: true } as const

/** `version`: as it was when its severity was chosen. */
export type SeverityEdit = { id: number; version: number; severity: DefectRow['severity'] }
export const severitiesBody = validatorOf<{ edits: SeverityEdit[] }>()({
  type: 'object',
  additionalProperties: false,
  required: ['edits'],
  properties: {
    edits: {
      type: 'array',
      minItems: 1,
      maxItems: AT_ONCE_MOST,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['id', 'version', 'severity'],
        properties: { id: ID, version: { type: 'integer' }, severity: { enum: SEVERITIES } },
      },
    },
  },
})
export const sendAllBody = validatorOf<{ ids: number[] }>()({
  type: 'object',
  additionalProperties: false,
  required: ['ids'],
  properties: { ids: IDS },
})
export const sayAllBody = validatorOf<SaidOfDefect & { ids: number[] }>()({
  ...messageSchema,
  required: ['ids', ...messageSchema.required],
  properties: { ids: IDS, ...messageSchema.properties },
})

/** `left`: what was not done, and why. */
export type BulkAnswer = { done: number[]; left: { id: number; title: string; why: string }[] }

/** Only drafts have a severity that is changed here. */
export const setSeverities = (
  ctx: Context,
  edits: readonly SeverityEdit[],
  who: string,
): Promise<BulkAnswer> =>
  ctx.db.transaction(async (tx) => {
    const done = await changeSeverities(tx, edits)
    if (done.length > 0) {
      const severities = [...new Set(edits.map(({ severity }) => severity))].join(', ')
      await note(tx, who, 'defect.edit', plural(done.length, 'defect'), { ids: done, severities })
      await notify(tx, 'defects')
    }
    const isDone = new Set(done)
    const rest = edits.flatMap(({ id }) => (isDone.has(id) ? [] : [id]))
    return {
      done,
      left: leftOf(rest, await defectsByIds(tx, rest), ({ state }) =>
        state === 'draft'
          ? 'somebody changed it meanwhile'
          : 'it has been sent: what it is now, the tracker says',
      ),
    }
  })

/** Drafts, and those that wait to be tried again: to where each was meant to go, at first the tracker. */
export const sendAll = (ctx: Context, ids: readonly number[], who: string): Promise<BulkAnswer> =>
  ctx.db.transaction(async (tx) => {
    const done = await markAllToSend(tx, ids)
    if (done.length > 0) {
      await enqueueSends(tx, done)
      await note(tx, who, 'defect.send', plural(done.length, 'defect'), { ids: done })
      await notify(tx, 'defects')
    }
    const rest = ids.filter((id) => !done.includes(id))
    return { done, left: leftOf(rest, await defectsByIds(tx, rest), () => 'it has been sent already') }
  })

/** The same words to each of those that the tracker has. */
export const sayOfAll = (
  ctx: Context,
  { ids, text, state }: SaidOfDefect & { ids: readonly number[] },
  who: string,
): Promise<BulkAnswer> =>
  ctx.db.transaction(async (tx) => {
    const rows = await defectsByIds(tx, ids)
    const there = rows.filter(({ trackerNumber }) => trackerNumber !== null)
    const done = there.map(({ id }) => id)
    if (done.length > 0) {
      const expected = state ? await expectedStates(tx, there) : new Map<number, string>()
      await addTrackerMessages(
        tx,
        done.map((defectId) => ({
          defectId,
          text,
          state: state ?? null,
          seenState: expected.get(defectId) ?? null,
          saidBy: who,
        })),
      )
      await enqueueMessages(tx, done)
      await note(tx, who, 'defect.say', plural(done.length, 'defect'), { ids: done, ...(state && { state }) })
      await notify(tx, 'defects')
    }
    const rest = ids.filter((id) => !done.includes(id))
    return { done, left: leftOf(rest, rows, () => 'the tracker does not have it: send it there first') }
  })

const leftOf = (
  ids: readonly number[],
  rows: readonly DefectRow[],
  why: (row: DefectRow) => string,
): BulkAnswer['left'] =>
  ids.map((id) => {
    const row = rows.find((one) => one.id === id)
    return { id, title: row?.title ?? `Defect ${id}`, why: row ? why(row) : 'it is not there any more' }
  })

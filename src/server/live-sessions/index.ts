/** Live sessions of this process: the lines of agents and of people, brought together by attempt. */
import { addressOfLiveLine, dropLiveLine, putLiveLine } from '@/db/live-lines'
import { notify } from '@/db/notify'
import { attemptRow } from '@/db/runs'
import type { LiveOrder, PlacedStop } from '@/core/live'
import type { Condition } from '@/core/model'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { loadLibrary, parseBeside } from '../definitions'
import { Problem } from '../http/problems'
import { liveHub } from '../live'
import type { PlayRequest } from './bodies'
import { Room } from './room'

export { type Line, type Visitor } from './room'

type StepsOrder = Extract<LiveOrder, { do: 'steps' }>

const rooms = new Map<string, Room>()

/** The room of a session; made by who comes first. */
export function roomOf(ctx: Context, attemptId: string): Room {
  const known = rooms.get(attemptId)
  if (known) return known
  const room = new Room({
    readSteps: (asked) => readSteps(ctx, asked),
    readRow: (index) => readRow(ctx, attemptId, index),
    later: (ms, act) => {
      const timer = setTimeout(act, ms)
      return () => clearTimeout(timer)
    },
    onEmpty: () => rooms.delete(attemptId),
  })
  rooms.set(attemptId, room)
  return room
}

/** The agent's line of a session is at this process from now on. @param own address of this process */
export async function noteLine(ctx: Context, attemptId: string, own: string): Promise<void> {
  await putLiveLine(ctx.db, attemptId, own)
  await notify(ctx.db, 'live', attemptId)
}
export const forgetLine = (ctx: Context, attemptId: string, own: string): Promise<void> =>
  dropLiveLine(ctx.db, attemptId, own)

/** Address of the process that has the agent's line; `undefined`: this one, or none has it yet. */
export async function lineElsewhere(
  ctx: Context,
  attemptId: string,
  own: string,
): Promise<string | undefined> {
  if (rooms.get(attemptId)?.hasAgent) return undefined
  const address = await addressOfLiveLine(ctx.db, attemptId)
  return address === own ? undefined : address
}

/** Hears where lines are opened: who waits for one here is led there. */
export function followLines({ connection }: Context): void {
  liveHub(connection.url).on(({ topic, id }) => {
    if (topic === 'live') rooms.get(id)?.sendAway()
  })
}

/** @throws {Problem} NOT_FOUND: no such attempt goes on */
export async function requireGoingOn({ db }: Pick<Context, 'db'>, attemptId: string): Promise<void> {
  const attempt = await attemptRow(db, attemptId)
  if (!attempt || attempt.state === 'ended') throw new Problem('NOT_FOUND', 'This session is over.')
}

/** Reads steps as a file of theirs would be read. @throws {Problem} DEFINITION_BROKEN with the first fault */
async function readSteps(ctx: Context, asked: PlayRequest['steps']): Promise<StepsOrder['steps']> {
  // conditions of stops are read as those of branches are
  const branches = asked.flatMap(({ stops = [] }) =>
    stops.flatMap(({ when }) => (when ? [{ if: when, steps: [{ note: 'stop' }] }] : [])),
  )
  const forms = [...asked.map(({ form }) => form), ...branches]
  // JSON is YAML, too
  const source = JSON.stringify({ case: 'live', title: 'Live', steps: forms })
  const { definition, problems } = await parseBeside(ctx, 'live.case.yaml', source)
  if (definition?.kind !== 'case' || definition.steps.length !== forms.length)
    throw new Problem('DEFINITION_BROKEN', problems[0] ? `${problems[0].message}.` : 'These are no steps.')
  const conditions = definition.steps
    .slice(asked.length)
    .flatMap((step) => (step.verb === 'if' ? [step.condition] : []))
  return asked.map(({ id, stops }, i) => ({
    id,
    step: definition.steps[i]!,
    ...(stops && { stops: stops.map((stop) => placed(stop, conditions)) }),
  }))
}

/** @param conditions those that were read, in order; the next is taken away */
function placed(
  { when, ...stop }: NonNullable<PlayRequest['steps'][number]['stops']>[number],
  conditions: Condition[],
): PlacedStop {
  return { ...stop, ...(when && { when: conditions.shift()! }) }
}

/** Of the table that the case has now. @throws {Problem} NOT_FOUND: there is no such row */
async function readRow(ctx: Context, attemptId: string, index: number): Promise<Record<string, string>> {
  const { caseRun } = await attemptContext(ctx, attemptId)
  const library = await loadLibrary(ctx)
  const table = library.case(caseRun.caseKey)?.data
  const row = table === undefined ? undefined : library.table(table)?.rows[index - 1]
  if (!row) throw new Problem('NOT_FOUND', `The table of this case has no row ${index}.`)
  return row
}

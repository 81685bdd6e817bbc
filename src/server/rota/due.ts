/** Starting rotations when their time has come, or when the one they follow is over. */
import { NEWEST_BUILD, type Rotation } from '@/core/model'
import { decideDue, startsOf } from '@/core/rota/starting'
import type { Tx } from '@/db/client'
import { notify } from '@/db/notify'
import {
  moveMark,
  moveMarks,
  readMarks,
  runningOf,
  recordStart,
  runsToFollow,
  takeMark,
  takeOccurrence,
  type Seen,
} from '@/db/rota'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { blackoutCalendars } from './calendars'
import { startPlanned, type RotationStart } from './start'

export type Started = {
  rotation: string
  at: string
  did: 'started' | 'skipped' | 'failed'
  run?: number
  why?: string
}

/** Starts every rotation whose time has come, each planned start once, however many workers do this at the
 * same time.
 * @returns what became of them */
export async function startDue(ctx: Context): Promise<Started[]> {
  const { rotations } = await loadLibrary(ctx)
  const timed = [...rotations.values()].filter(({ when, follows }) => when || follows)
  if (timed.length === 0) return []
  const calendars = await blackoutCalendars(ctx)
  const [waiting, paused] = [timed.filter((one) => !one.paused), timed.filter((one) => one.paused)]
  const { now, seen } = await readMarks(ctx.db, ctx.now)
  const behind = await runsToFollow(
    ctx.db,
    waiting.flatMap(({ key, follows }) => {
      const mark = seen.get(key)
      return follows && mark ? [{ key, rotation: follows.rotation, after: followedSince(mark) }] : []
    }),
  )
  // Mostly nothing is due: only a rotation for which something is, or that is new, gets a transaction of its
  // own.
  const isQuiet = ({ key, when, follows }: Rotation): boolean => {
    const mark = seen.get(key)
    if (mark === undefined) return false
    if (follows && behind.some((run) => run.key === key)) return false
    const from = mark.seenUntil
    return (
      now <= from || !when || startsOf(when, calendars, from.toISOString(), now.toISOString()).length === 0
    )
  }
  const quiet = waiting.filter(isQuiet)
  const keysOf = (rotations: readonly Rotation[]) => rotations.map(({ key }) => key)
  await moveMarks(ctx.db, keysOf(quiet), now)
  // The times of a paused one do not count: it must not find them missed when it goes on.
  await moveMarks(ctx.db, keysOf(paused), now, { paused: true })
  const done: Started[] = []
  for (const rotation of waiting)
    if (!quiet.includes(rotation)) done.push(...(await startDueOf(ctx, rotation, calendars)))
  return done
}

/** A run that ended may be committed so much later than the moment it says. */
const COMMITTED_LATE_MS = 15 * 60_000

const followedSince = ({ seenUntil, since }: Seen): Date =>
  new Date(Math.max(since.getTime(), seenUntil.getTime() - COMMITTED_LATE_MS))

async function startDueOf(
  ctx: Context,
  rotation: Rotation,
  calendars: Awaited<ReturnType<typeof blackoutCalendars>>,
): Promise<Started[]> {
  return ctx.db.transaction(async (tx) => {
    const mark = await takeMark(tx, rotation.key, ctx.now)
    if (!mark || mark.now <= mark.seenUntil) return []
    const done = [
      ...(await startByTime(ctx, tx, rotation, calendars, mark)),
      ...(await startBehind(ctx, tx, rotation, mark)),
    ]
    await moveMark(tx, rotation.key, mark.now)
    if (done.length > 0) await notify(tx, 'rota')
    return done
  })
}

type Mark = Seen & { now: Date }

async function startByTime(
  ctx: Context,
  tx: Tx,
  rotation: Rotation,
  calendars: Awaited<ReturnType<typeof blackoutCalendars>>,
  mark: Mark,
): Promise<Started[]> {
  const { when } = rotation
  if (!when) return []
  const due = startsOf(when, calendars, mark.seenUntil.toISOString(), mark.now.toISOString())
  if (due.length === 0) return []
  const running = await runningOf(tx, [rotation.key, ...when.notWith])
  const beside = running.find(({ rotationKey }) => rotationKey !== rotation.key)?.title
  const state = {
    nowMs: mark.now.getTime(),
    running: running.some(({ rotationKey }) => rotationKey === rotation.key),
    ...(beside !== undefined && { beside }),
  }
  const done: Started[] = []
  for (const { at, do: decided, why } of decideDue(due, when, state))
    done.push(
      ...(await takeStart(ctx, tx, rotation, new Date(at), decided === 'skip' ? why : undefined, why)),
    )
  return done
}

/** One start for each run of the other that is over: taken by the moment it ended, so that no worker does it
 * twice. */
async function startBehind(ctx: Context, tx: Tx, rotation: Rotation, mark: Mark): Promise<Started[]> {
  const { follows } = rotation
  if (!follows) return []
  const done: Started[] = []
  const following = { key: rotation.key, rotation: follows.rotation, after: followedSince(mark) }
  for (const { id, title, build, endedAt, failures } of await runsToFollow(tx, [following])) {
    if (endedAt > mark.now) continue
    const skip = follows.on === 'passed' && failures > 0 ? `run ${id} of ${title} did not pass` : undefined
    // the newest build may be another by now
    const given = rotation.build === NEWEST_BUILD ? { build } : {}
    done.push(...(await takeStart(ctx, tx, rotation, endedAt, skip, `after run ${id} of ${title}`, given)))
  }
  return done
}

/** Takes a planned start, and starts or skips it. Nothing when somebody else took it. */
async function takeStart(
  ctx: Context,
  tx: Tx,
  rotation: Rotation,
  at: Date,
  skip: string | undefined,
  why: string | undefined,
  given: RotationStart = {},
): Promise<Started[]> {
  if (!(await takeOccurrence(tx, rotation.key, at))) return []
  const did =
    skip === undefined
      ? await startPlanned(ctx, tx, rotation, why, given)
      : { did: 'skipped' as const, why: skip }
  await recordStart(tx, {
    rotationKey: rotation.key,
    at,
    state: did.did,
    runId: 'run' in did ? did.run : null,
    why: did.why ?? null,
  })
  return [
    {
      rotation: rotation.key,
      at: at.toISOString(),
      did: did.did,
      ...('run' in did && { run: did.run }),
      ...(did.why && { why: did.why }),
    },
  ]
}

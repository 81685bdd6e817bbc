/** Starting rotations: by hand, by other programs, and when their time has come. */
import { NEWEST_BUILD, PRIORITIES, type Rotation } from '@/core/model'
import { occurrences } from '@/core/calendar'
import { decideDue } from '@/core/rota'
import type { Tx } from '@/db/client'
import { notify } from '@/db/notify'
import { moveMark, moveMarks, readMarks, runsStill, settleOccurrence, takeMark, takeOccurrence } from '@/db/rota'
import { listBuilds } from '@/db/workspace'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'
import { validator } from '../http/route'
import { prepareRun, startBody } from '../runs'

export type RotationStart = { build?: string; with?: Record<string, string> }
export const rotationStartBody = validator<RotationStart>({
  type: 'object', additionalProperties: false,
  properties: { build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' }, with: { type: 'object', additionalProperties: { type: 'string', maxLength: 2000 }, maxProperties: 100 } },
})

/** Starts a rotation now. @throws {Problem} NOT_FOUND, and as starting a run does */
export async function startRotation(ctx: Context, key: string, given: RotationStart, who: string): Promise<number> {
  const rotation = (await loadLibrary(ctx)).rotations.get(key)
  if (!rotation) throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  const write = await prepare(ctx, rotation, given, who)
  return ctx.db.transaction(write)
}

async function prepare(ctx: Context, rotation: Rotation, given: RotationStart, who: string): Promise<(tx: Tx) => Promise<number>> {
  const { what, environments, retries, limitMs, priority, title, build } = rotation
  const newest = given.build ?? (build === NEWEST_BUILD ? (await listBuilds(ctx.db))[0]?.label : build)
  if (newest === undefined) throw new Problem('NOTHING_TO_RUN', 'No build is known yet: name one.')
  const request = { ...what, with: { ...what.with, ...given.with }, environments, retries, limitMs, title, build: newest, priority: PRIORITIES[priority] }
  if (!startBody(request)) throw new Problem('BODY_INVALID', 'The rotation asks for something a run cannot be started with.', startBody.errors)
  return prepareRun(ctx, request, who, rotation.key)
}

/** Starts every rotation whose time has come, each planned start once, however many workers do this at the same time.
 * @returns what became of them */
export async function startDue(ctx: Context): Promise<{ rotation: string; at: string; did: 'started' | 'skipped' | 'failed'; run?: number; why?: string }[]> {
  const { rotations } = await loadLibrary(ctx)
  const timed = [...rotations.values()].filter(({ when }) => when)
  if (timed.length === 0) return []
  const [waiting, paused] = [timed.filter((one) => !one.paused), timed.filter((one) => one.paused)]
  const { now, seenUntil } = await readMarks(ctx.db, ctx.now)
  // Mostly nothing is due: only a rotation for which something is, or that is new, gets a transaction of its own.
  const isQuiet = ({ key, when }: Rotation): boolean => {
    const { missed: _, whileRunning: __, ...times } = when!
    const seen = seenUntil.get(key)
    return seen !== undefined && (now <= seen || occurrences({ ...times, from: seen.toISOString(), to: now.toISOString() }).length === 0)
  }
  const quiet = waiting.filter(isQuiet)
  // The times of a paused one do not count: it must not find them missed when it goes on.
  await moveMarks(ctx.db, [...quiet, ...paused].map(({ key }) => key), now)
  const done: Awaited<ReturnType<typeof startDue>> = []
  for (const rotation of waiting) if (!quiet.includes(rotation)) done.push(...(await startDueOf(ctx, rotation, rotation.when!)))
  return done
}

async function startDueOf(ctx: Context, rotation: Rotation, { missed, whileRunning, ...times }: NonNullable<Rotation['when']>): ReturnType<typeof startDue> {
  return ctx.db.transaction(async (tx) => {
    const mark = await takeMark(tx, rotation.key, ctx.now)
    if (!mark || mark.now <= mark.seenUntil) return []
    const due = occurrences({ ...times, from: mark.seenUntil.toISOString(), to: mark.now.toISOString() })
    await moveMark(tx, rotation.key, mark.now)
    if (due.length === 0) return []
    const done: Awaited<ReturnType<typeof startDue>> = []
    for (const { at, do: decided, why } of decideDue(due, { missed, whileRunning }, { nowMs: mark.now.getTime(), running: await runsStill(tx, rotation.key) })) {
      if (!(await takeOccurrence(tx, rotation.key, new Date(at)))) continue
      const did = decided === 'skip' ? { did: 'skipped' as const, why } : await carryOut(ctx, tx, rotation, why)
      await settleOccurrence(tx, { rotationKey: rotation.key, at: new Date(at), state: did.did, runId: 'run' in did ? did.run : null, why: did.why ?? null })
      done.push({ rotation: rotation.key, at, did: did.did, ...('run' in did && { run: did.run }), ...(did.why && { why: did.why }) })
    }
    await notify(tx, 'rota')
    return done
  })
}

/** A start that does not go is noted with its reason; the next one is tried at its time. */
async function carryOut(ctx: Context, tx: Tx, rotation: Rotation, why: string | undefined): Promise<{ did: 'started'; run: number; why?: string } | { did: 'failed'; why: string }> {
  try {
    const write = await prepare(ctx, rotation, {}, 'the rota')
    return { did: 'started', run: await write(tx), ...(why && { why }) }
  } catch (error) {
    if (error instanceof Problem) return { did: 'failed', why: error.message }
    throw error
  }
}

/** Starting rotations: by hand and by other programs, and what their planned starts share with that. */
import { NEWEST_BUILD, PRIORITIES, valuesTakenBy, type Rotation } from '@/core/model'
import { pickEnvironments } from '@/core/rota'
import type { Tx } from '@/db/client'
import { listBuilds, listEnvironments } from '@/db/workspace'
import { within, type Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { chosenItems, chosenSuite, prepareRun } from '../runs'

/** `despite`: also when some of it can be placed nowhere. */
export const rotationStartBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: {
    build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    stage: { type: 'string', maxLength: 80 },
    with: { type: 'object', additionalProperties: { type: 'string', maxLength: 2000 }, maxProperties: 100 },
    despite: { type: 'boolean' },
  },
})
export type RotationStart = BodyOf<typeof rotationStartBody>

/** Starts a rotation now. @throws {Problem} NOT_FOUND, BODY_INVALID for a value that none of its cases takes,
 * and as starting a run does */
export async function startRotation(
  ctx: Context,
  key: string,
  given: RotationStart,
  who: string,
): Promise<number> {
  const library = await loadLibrary(ctx)
  const rotation = library.rotations.get(key)
  if (!rotation) throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  requireTaken(given.with ?? {}, rotation, library)
  const write = await prepare(ctx, rotation, given, who)
  return ctx.db.transaction(write)
}

/** A value that nothing takes is a slip of the pen, and the run would go on without it. */
function requireTaken(values: Record<string, string>, rotation: Rotation, library: Loaded): void {
  const names = Object.keys(values)
  if (names.length === 0) return
  const choice = { parts: rotation.what }
  const { items } = chosenItems(choice, chosenSuite(choice, library), library)
  const cases = [...new Set(items.map(({ caseKey }) => caseKey))].flatMap((key) => library.case(key) ?? [])
  const taken = [...new Set([...valuesTakenBy(cases), ...Object.keys(rotation.with)])].sort()
  const unknown = names.filter((name) => !taken.includes(name))
  if (unknown.length === 0) return
  const there = taken.length > 0 ? `; they take ${taken.slice(0, NAMED_MOST).join(', ')}` : ''
  throw new Problem(
    'BODY_INVALID',
    `No case of “${rotation.title}” takes ${unknown.map((name) => `“${name}”`).join(', ')}${there}.`,
    { unknown },
  )
}
const NAMED_MOST = 12

async function prepare(
  ctx: Context,
  rotation: Rotation,
  given: RotationStart,
  who: string,
): Promise<(tx: Tx) => Promise<number>> {
  const {
    what,
    where,
    before,
    after,
    how,
    retries,
    retryOn,
    retryAgent,
    policy,
    limitMs,
    runLimitMs,
    stopAfter,
    priority,
    title,
    build,
  } = rotation
  const stage = given.stage ?? rotation.stage
  const newest = given.build ?? (build === NEWEST_BUILD ? (await listBuilds(ctx.db))[0]?.label : build)
  if (newest === undefined) throw new Problem('NOTHING_TO_RUN', 'No build is known yet: name one.')
  const { keys, faults } = pickEnvironments(
    where,
    (await listEnvironments(ctx.db)).map(({ facts }) => facts),
  )
  if (faults[0])
    throw new Problem(
      'NOTHING_TO_RUN',
      `It is not clear where it runs: ${faults.map(({ message }) => message).join('; ')}.`,
      faults,
    )
  return prepareRun(
    ctx,
    {
      parts: what,
      with: { ...rotation.with, ...given.with },
      environments: keys,
      where,
      before,
      after,
      how,
      retries,
      limitMs,
      title,
      build: newest,
      ...(stage !== undefined && { stage }),
      priority: PRIORITIES[priority],
      rotationKey: rotation.key,
      retryAgent,
      ...(retryOn && { retryOn }),
      ...(policy !== undefined && { policy: { policy, from: `the rotation ${title}` } }),
      ...(runLimitMs !== undefined && { runLimitMs }),
      ...(stopAfter !== undefined && { stopAfter }),
      ...((given.despite || where.leaveOut) && { despite: true }),
    },
    who,
  )
}

/** A start that does not go is noted with its reason; the next one is tried at its time. */
export async function startPlanned(
  ctx: Context,
  tx: Tx,
  rotation: Rotation,
  why: string | undefined,
  given: RotationStart,
): Promise<{ did: 'started'; run: number; why?: string } | { did: 'failed'; why: string }> {
  try {
    const write = await prepare(within(ctx, tx), rotation, given, 'the rota')
    return { did: 'started', run: await write(tx), ...(why && { why }) }
  } catch (error) {
    if (error instanceof Problem) return { did: 'failed', why: error.message }
    throw error
  }
}

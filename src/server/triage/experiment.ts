/** Running again to find out: what would tell the causes of a failure apart, the runs of it, and what they
 * told. */
import {
  afterRuns,
  ARMS,
  CAUSES,
  experimentFor,
  type Arm,
  type ArmResult,
  type Experiment,
  type Likelihoods,
} from '@/core/triage'
import type { ExperimentsViewModel, ExperimentViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import { lastGood } from '@/db/case-history'
import type { ExperimentArm } from '@/db/schema'
import {
  addExperiment,
  experimentsOf,
  likelyInRun,
  passedElsewhere,
  type ExperimentRow,
} from '@/db/experiments'
import { notify } from '@/db/notify'
import { listEnvironments } from '@/db/workspace'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { prepareRun } from '../runs'

const [PAST_MOST, TITLE_MOST] = [10, 120]

export const experimentBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['signature', 'times'],
  properties: {
    signature: { type: 'string', minLength: 1, maxLength: 200 },
    times: {
      type: 'object',
      additionalProperties: false,
      minProperties: 1,
      properties: Object.fromEntries(
        ARMS.map((arm) => [arm, { type: 'integer', minimum: 0, maximum: 10 }]),
      ) as Record<Arm, { type: 'integer'; minimum: number; maximum: number }>,
    },
  },
})

type Place = { environment: string; build: string }
type Planned = {
  context: Awaited<ReturnType<typeof attemptContext>>
  likely: Likelihoods
  places: Partial<Record<Arm, Place>>
  found: Experiment | undefined
}

/** What there is to try for a failure of a cause, and what was tried. @throws {Problem} NOT_FOUND */
export async function experimentsViewModel(
  ctx: Context,
  attemptId: string,
  signature: string,
): Promise<ExperimentsViewModel> {
  const [{ places, found }, past, environments] = await Promise.all([
    planned(ctx, attemptId, signature),
    experimentsOf(ctx.db, [signature], PAST_MOST),
    listEnvironments(ctx.db),
  ])
  const titles = new Map(environments.map(({ key, title }) => [key, title]))
  const titleOf = (key: string) => titles.get(key) ?? key
  return {
    plan: found
      ? {
          share: found.bits / found.bitsNow,
          caseRuns: found.caseRuns,
          ms: found.ms,
          arms: ARMS.flatMap((arm) => {
            const place = places[arm]
            return place
              ? [{ arm, times: found.times[arm], ...place, environment: titleOf(place.environment) }]
              : []
          }),
        }
      : null,
    past: past.map((row) => told(row, titleOf)),
  }
}

/** Starts its runs. @returns their numbers
 * @throws {Problem} NOT_FOUND; BODY_INVALID: there is nothing to try; those of a start; then none was
 * started */
export async function startExperiment(
  ctx: Context,
  attemptId: string,
  { signature, times }: BodyOf<typeof experimentBody>,
  who: string,
): Promise<number[]> {
  const { context, likely, places } = await planned(ctx, attemptId, signature)
  const { caseRun } = context
  const wanted = ARMS.flatMap((arm) => {
    const place = places[arm]
    const count = times[arm] ?? 0
    if (count > 0 && !place) throw new Problem('BODY_INVALID', `There is nothing to try “${arm}” with.`)
    return place && count > 0 ? [{ arm, times: count, ...place }] : []
  })
  if (wanted.length === 0) throw new Problem('BODY_INVALID', 'Say how often at least one of them is run.')
  const writes: { one: Omit<ExperimentArm, 'runId'>; write: Awaited<ReturnType<typeof prepareRun>> }[] = []
  for (const one of wanted)
    writes.push({
      one,
      write: await prepareRun(
        ctx,
        {
          cases: [caseRun.caseKey],
          times: one.times,
          ...(caseRun.rowIndex !== null && { row: caseRun.rowIndex }),
          with: caseRun.parameters,
          environments: [one.environment],
          build: one.build,
          retries: 0,
          limitMs: caseRun.limitMs,
          title: `What is it? ${caseRun.title}`.slice(0, TITLE_MOST),
        },
        who,
      ),
    })
  return ctx.db.transaction(async (tx) => {
    const arms: ExperimentArm[] = []
    for (const { one, write } of writes) arms.push({ ...one, runId: await write(tx) })
    const runIds = arms.map(({ runId }) => runId)
    await addExperiment(tx, { signature, build: context.frozen.build, likely, arms, startedBy: who })
    await note(tx, who, 'cause.experiment', signature, { runs: runIds })
    await notify(tx, 'triage', signature)
    return runIds
  })
}

/** `runs`: how many passed or failed. */
export type ToldByRuns = { after: Likelihoods; runs: number }

/** What experiments of causes told, all of those that are over together: what is thought now.
 * @param buildOf of the failures of a cause: of another build nothing is known */
export async function toldByExperiments(
  ctx: Pick<Context, 'db'>,
  causes: readonly { signature: string; build: string }[],
): Promise<Map<string, ToldByRuns>> {
  const rows = await experimentsOf(
    ctx.db,
    causes.map(({ signature }) => signature),
    500,
  )
  const builds = new Map(causes.map(({ signature, build }) => [signature, build]))
  const found = new Map<string, { first: Likelihoods; results: ArmResult[] }>()
  for (const row of rows.toReversed()) {
    const { isOver, results } = resultsOf(row)
    if (!isOver || builds.get(row.signature) !== row.build) continue
    const before = found.get(row.signature) ?? { first: row.likely, results: [] }
    found.set(row.signature, { ...before, results: [...before.results, ...results] })
  }
  const all = [...found].map(([signature, { first, results }]) => {
    const runs = results.reduce((sum, { of }) => sum + of, 0)
    return [signature, { after: afterRuns(first, results), runs }] as const
  })
  return new Map(all.filter(([, { runs }]) => runs > 0))
}

async function planned(ctx: Context, attemptId: string, signature: string): Promise<Planned> {
  const context = await attemptContext(ctx, attemptId)
  const { attempt, caseRun, frozen } = context
  const [known, good, elsewhere] = await Promise.all([
    likelyInRun(ctx.db, caseRun.runId, signature),
    lastGood(ctx.db, caseRun, attempt.claimedAt),
    passedElsewhere(ctx.db, caseRun.runId, caseRun.caseKey),
  ])
  if (!known) throw new Problem('NOT_FOUND', 'There is no such cause in the run of this failure.')
  const told = await toldByExperiments(ctx, [{ signature, build: frozen.build }])
  const first = Object.fromEntries(CAUSES.map((cause) => [cause, known[cause] ?? 0])) as Likelihoods
  const likely = told.get(signature)?.after ?? first
  const { environment } = caseRun
  const other = elsewhere.find((key) => key !== environment)
  const places: Planned['places'] = {
    again: { environment, build: frozen.build },
    ...(good && good.build !== frozen.build && { before: { environment, build: good.build } }),
    ...(other !== undefined && { elsewhere: { environment: other, build: frozen.build } }),
  }
  const ms = Math.max(1000, caseRun.estimateMs)
  const msOf = Object.fromEntries(ARMS.flatMap((arm) => (places[arm] ? [[arm, ms]] : [])))
  // nobody tries again a joint case alone, nor one that people do
  const canRun = caseRun.roles.length === 0 && frozen.kind === 'run'
  return {
    context,
    likely,
    places: canRun ? places : {},
    found: canRun ? experimentFor(likely, msOf) : undefined,
  }
}

function resultsOf({ arms }: ExperimentRow): { isOver: boolean; results: ArmResult[] } {
  return {
    isOver: arms.every(({ open }) => open === 0),
    results: arms.map(({ arm, passed, failed }) => ({ arm, failed, of: passed + failed })),
  }
}

function told(row: ExperimentRow, titleOf: (key: string) => string): ExperimentViewModel {
  const { isOver, results } = resultsOf(row)
  const { id, build, by, at, likely } = row
  const after = isOver ? afterRuns(likely, results) : undefined
  return {
    id,
    build,
    by,
    at,
    arms: row.arms.map((arm) => ({ ...arm, environment: titleOf(arm.environment) })),
    told: after
      ? CAUSES.map((cause) => ({ cause, before: likely[cause], after: after[cause] })).toSorted(
          (a, b) => b.after - a.after,
        )
      : null,
  }
}

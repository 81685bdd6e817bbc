/** The failures of a run by what they say: computed when somebody looks, kept nowhere. */
import { guidedSteps, type GuidedStep } from '@/core/guided'
import { sentenceText, type Environment } from '@/core/model'
import type { Factors, Place } from '@/core/triage'
import type { RunCausesViewModel } from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { newlyFailing } from '@/db/case-history'
import { endedWithAgents, failuresWithFacts, type RunFailureRow } from '@/db/causes'
import { frozenRun, runViewModel } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** More are not told apart here: the page says so. */
const [FAILURES_MOST, ENDED_MOST] = [5000, 20_000]
const LIMIT_MS = 20_000

/** @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function runCausesViewModel(ctx: Context, runId: number): Promise<RunCausesViewModel> {
  const [run, frozen, failures] = await Promise.all([
    runViewModel(ctx.db, runId),
    frozenRun(ctx.db, runId),
    failuresWithFacts(ctx.db, runId, FAILURES_MOST),
  ])
  if (!run || !frozen) throw new Problem('NOT_FOUND', `There is no run ${runId}.`)
  const of = run.counts.failed + run.counts.errored
  if (failures.length === 0) return { causes: [], of, looked: 0 }
  const [ended, agents, fresh] = await Promise.all([
    endedWithAgents(ctx.db, runId, ENDED_MOST),
    listAgents(ctx.db, ctx.leaseMs),
    newlyFailing(ctx.db, runId),
  ])
  const environments = new Map(
    [...frozen.environments, ...(frozen.roleEnvironments ?? [])].map((one) => [one.key, one]),
  )
  const isOfOtherBuild = fresh.previousBuild !== null && fresh.previousBuild !== run.build
  const newCases = new Set(fresh.cases.map(({ caseKey }) => caseKey))
  const saying = sayingOf(frozen)
  const causes = await ctx.work.run(
    'causes',
    {
      failures: failures.map((failure) => ({
        id: failure.id,
        kind: failure.kind ?? '',
        message: saying(failure, environments.get(failure.environment)),
        caseKey: failure.caseKey,
        environment: failure.environment,
        agent: failure.agent,
        ...(isOfOtherBuild && { isNew: newCases.has(failure.caseKey) }),
      })),
      ended: ended.map(({ id, caseKey, environment, agent }) => ({
        id,
        caseKey,
        environment,
        factors: factorsOf(environments.get(environment), agent),
      })),
      unhealthyAgents: agents.flatMap(({ name, alive }) => (alive ? [] : [name])),
    },
    { limitMs: LIMIT_MS },
  )
  const byId = new Map(failures.map((failure) => [failure.id, failure]))
  return {
    of,
    looked: failures.length,
    causes: causes.map(({ members, where, ...one }) => ({
      ...one,
      places: where.map(placeWords),
      members: members.map((id) => memberOf(byId.get(id)!, environments)),
    })),
  }
}

function memberOf(
  { id, attemptId, title, environment, rowIndex, rowCount }: RunFailureRow,
  environments: ReadonlyMap<string, Environment>,
): RunCausesViewModel['causes'][number]['members'][number] {
  return {
    id,
    attemptId,
    title,
    environment: environments.get(environment)?.title ?? environment,
    row: rowIndex === null ? null : `${rowIndex} of ${rowCount ?? rowIndex}`,
  }
}

function factorsOf(environment: Environment | undefined, agent: string | null): Factors {
  return {
    ...(agent !== null && { agent }),
    ...(environment && {
      environment: environment.title,
      browser: environment.browser,
      os: environment.os,
      locale: environment.locale,
      width: environment.height > environment.width ? 'narrow' : 'wide',
    }),
  }
}

type Frozen = NonNullable<Awaited<ReturnType<typeof frozenRun>>>

/** What a failure says, with the step it was at: “The text is not what was expected” says nothing by
 * itself. */
function sayingOf(frozen: Frozen) {
  const routines = new Map(Object.entries(frozen.routines))
  const known = new Map<string, ReadonlyMap<string, GuidedStep>>()
  return (failure: RunFailureRow, environment: Environment | undefined): string => {
    const { caseKey, message, path } = failure
    const testCase = frozen.cases[caseKey]
    if (!testCase || !environment || path === null) return message ?? ''
    const key = `${caseKey} ${failure.rowIndex ?? ''}`
    let steps = known.get(key)
    if (!steps) {
      const values = { parameters: failure.parameters, row: failure.row ?? {}, build: frozen.build, runId: 0 }
      const all = guidedSteps(testCase, routines, { ...values, environment })
      known.set(key, (steps = new Map(all.map((step) => [step.path, step]))))
    }
    const step = steps.get(path)
    return failure.kind === 'check' && step?.kind === 'check'
      ? `${sentenceText(step.words)}: ${message ?? ''}`
      : (message ?? '')
  }
}

const percent = (part: number, of: number) => (of === 0 ? '0' : `${Math.round((100 * part) / of)}`)

function placeWords({ factors, failed, of, elsewhereFailed, elsewhereOf, p }: Place): string {
  const at = Object.entries(factors)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(', ')
  const chance = p < 0.001 ? 'less than 1 in 1,000' : `${percent(p, 1)} in 100`
  return `${at}: ${failed} of ${of} failed, elsewhere ${elsewhereFailed} of ${elsewhereOf}; by chance ${chance}`
}

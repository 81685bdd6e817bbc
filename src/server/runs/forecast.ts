/** What a start would come to: its case runs dealt to the seats that are here, and when they would be done. */
import { PRIORITIES } from '@/core/model'
import { forecast, type ForecastWork } from '@/core/planning'
import type { StartForecast } from '@/core/sights'
import { listAgents } from '@/db/agents'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { validator } from '../http/route'
import { chosenItems, chosenSuite, type Choice } from './choose'
import { estimatesOf } from './estimates'
import { environmentsOf } from './start'

export type ForecastRequest = Choice & { environments: string[]; retries: number }

export const forecastBody = validator<ForecastRequest>({
  type: 'object', additionalProperties: false, required: ['environments', 'retries'],
  properties: {
    suite: { type: 'string', maxLength: 80 }, rule: { type: 'string', maxLength: 300 }, cases: { type: 'array', items: { type: 'string', maxLength: 80 }, minItems: 1, maxItems: 5000 },
    environments: { type: 'array', items: { type: 'string' }, minItems: 1, maxItems: 100, uniqueItems: true }, retries: { type: 'integer', minimum: 0, maximum: 2 },
  },
})

/** Somebody waits for it while choosing: a rough plan now is better than a good one later. */
const [BUDGET_MS, DRAWS] = [250, 200]

/** As if nothing else ran: on the seats of live agents, with the durations of the past.
 * @throws {Problem} NOT_FOUND, BODY_INVALID, NOTHING_TO_RUN */
export async function forecastStart(ctx: Context, request: ForecastRequest): Promise<StartForecast> {
  const [library, environments, agents] = await Promise.all([loadLibrary(ctx), environmentsOf(ctx, request.environments), listAgents(ctx.db, ctx.leaseMs)])
  const { items } = chosenItems(request, chosenSuite(request, library), library)
  const cases = [...new Set(items.map(({ caseKey }) => caseKey))].map((key) => library.case(key)!)
  const estimateOf = await estimatesOf(ctx, cases, environments)
  const work = environments.flatMap(({ key: environment }) => {
    const holders = new Map<string, string[]>()
    items.forEach(({ scopes }, i) => scopes.forEach((scope) => holders.set(scope, [...(holders.get(scope) ?? []), `${i} ${environment}`])))
    return items.map(({ caseKey, after }, i): ForecastWork => {
      const { p50Ms, p90Ms, failRate } = estimateOf(caseKey, environment)
      const testCase = library.case(caseKey)!
      return { id: `${i} ${environment}`, environment, ms: p50Ms, p90Ms, failRate, after: [...new Set(after.flatMap((scope) => holders.get(scope) ?? []))], exclusive: testCase.uses, priority: PRIORITIES[testCase.priority] }
    })
  })
  const serving = agents.filter(({ alive, draining }) => alive && !draining)
  const input = { agents: serving.map(({ id, seats, environments: keys }) => ({ id, seats, environments: keys })), spread: 'split' as const, switchMs: { same: 0, other: 0 } }
  const { finishMs, expectedRetries, boundMs, bound, unplaceable } = forecast({ ...input, work, retries: request.retries, draws: DRAWS, budgetMs: BUDGET_MS }, () => performance.now())
  const wanted = new Set(request.environments)
  return {
    caseRuns: work.length, seats: serving.filter(({ environments: keys }) => keys.some((key) => wanted.has(key))).reduce((sum, { seats }) => sum + seats, 0),
    p50Ms: finishMs.p50, p90Ms: finishMs.p90, boundMs, bound, expectedRetries, unplaceable: unplaceable.length,
  }
}

/** What a start would come to: its case runs dealt to the seats that are here, and when they would be
 * done. */
import type { Outlook } from '@/core/rota'
import { retriesSchema, type RotationWhere } from '@/core/model'
import type { KeptForecast, RunForecast, StartForecast } from '@/core/view-models'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { validator, type BodyOf } from '../http/validator'
import { planned } from '../planning'
import { basisOf } from './basis'
import { chosenItems, chosenSuite } from './choose'
import { isHindered, lackingOf } from './obstacles'
import { environmentsOf } from './request'

export const forecastBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['environments', 'retries'],
  properties: {
    suite: { type: 'string', maxLength: 80 },
    rule: { type: 'string', maxLength: 300 },
    cases: { type: 'array', items: { type: 'string', maxLength: 80 }, minItems: 1, maxItems: 5000 },
    environments: { type: 'array', items: { type: 'string' }, minItems: 1, maxItems: 100, uniqueItems: true },
    retries: retriesSchema,
  },
})
export type ForecastRequest = BodyOf<typeof forecastBody>

/** Where a start without a rotation runs: on these environments, split over every seat that serves them. */
export const plainWhere = (environments: string[], more: Partial<RotationWhere> = {}): RotationWhere => ({
  environments,
  cover: 'all',
  never: [],
  always: [],
  spread: 'split',
  leaveOut: false,
  lanes: {},
  ...more,
})

/** As if nothing else ran: on the seats of live agents, with the durations of the past.
 * @throws {Problem} NOT_FOUND, BODY_INVALID, NOTHING_TO_RUN */
export async function forecastStart(ctx: Context, request: ForecastRequest): Promise<StartForecast> {
  const [library, environments] = await Promise.all([
    loadLibrary(ctx),
    environmentsOf(ctx, request.environments),
  ])
  const { items } = chosenItems(request, chosenSuite(request, library), library)
  const basis = await basisOf(ctx, items, library, environments)
  const found = await planned(
    ctx,
    { where: plainWhere(request.environments), retries: request.retries },
    basis,
  )
  const lacking = await lackingOf(ctx, items, library)
  return {
    ...startForecast(found),
    lacking: lacking.map(({ cases, ...one }) => ({ ...one, cases: cases.length })),
    hindered: isHindered(lacking, items),
  }
}

export function startForecast({
  caseRuns,
  seats,
  p50Ms,
  p90Ms,
  boundMs,
  bound,
  expectedRetries,
  unplaceable,
}: Outlook): KeptForecast {
  return {
    caseRuns,
    seats,
    p50Ms,
    p90Ms,
    boundMs,
    bound,
    expectedRetries,
    unplaceable: unplaceable.reduce((sum, { count }) => sum + count, 0),
  }
}

/** What is kept with a run, to be held against what happened.
 * @param placeOf the position of a piece of the plan among the run's case runs */
export const runForecast = (found: Outlook, placeOf: (place: number) => number): RunForecast => ({
  ...startForecast(found),
  lanes: found.lanes.map(({ agent, seat, items, environments }) => ({
    agent,
    seat,
    items: items.map(({ work, startMs, endMs }, i) => [
      placeOf(Number(work.split(' ')[0])),
      environments[i]!,
      startMs,
      endMs,
    ]),
  })),
})

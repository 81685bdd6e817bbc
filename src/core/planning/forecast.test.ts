import { forecast, type ForecastInput, type ForecastWork } from '.'

const work = (id: string, ms: number, more: Partial<ForecastWork> = {}): ForecastWork => ({
  id,
  environment: 'a',
  ms,
  p90Ms: ms,
  ...more,
})
const input = (list: ForecastWork[], more: Partial<ForecastInput> = {}): ForecastInput => ({
  agents: [{ id: 'x', seats: 2, environments: ['a'] }],
  work: list,
  spread: 'split',
  draws: 400,
  budgetMs: 2000,
  ...more,
})
const four = [1, 2, 3, 4].map((i) => work(`w${i}`, 10_000))

test('what is sure ends when the plan says', () =>
  expect(forecast(input(four, { now: 500 })).finishMs).toEqual({ p10: 20_500, p50: 20_500, p90: 20_500 }))
test('what is not sure spreads, and the same seed tells the same', () => {
  const unsure = input(
    four.map((one) => ({ ...one, p90Ms: 20_000 })),
    { seed: 3 },
  )
  const { finishMs } = forecast(unsure)
  expect(finishMs.p10).toBeLessThan(finishMs.p50)
  expect(finishMs.p50).toBeLessThan(finishMs.p90)
  expect(forecast(unsure)).toEqual(forecast(unsure))
})
test('one piece alone: its p50 and p90 are the forecast’s', () => {
  const { finishMs } = forecast(input([work('w', 10_000, { p90Ms: 15_000 })], { draws: 4000 }))
  expect(finishMs.p50 / 10_000).toBeCloseTo(1, 1)
  expect(finishMs.p90 / 15_000).toBeCloseTo(1, 1)
})
test('retries are expected as often as it fails, and the piece is named as a risk', () => {
  const { expectedRetries, risky, finishMs } = forecast(
    input([work('sound', 10_000), work('shaky', 10_000, { failRate: 0.5 })], { retries: 1, draws: 2000 }),
  )
  expect(Math.abs(expectedRetries - 0.5)).toBeLessThan(0.05)
  expect(risky).toHaveLength(1)
  expect(risky[0]).toMatchObject({ work: 'shaky' })
  expect(Math.abs(risky[0]!.failChance - 0.25)).toBeLessThan(0.05)
  expect(finishMs.p90).toBe(20_000)
})
test('more seats end it earlier, lost agents later', () => {
  const many = Array.from({ length: 20 }, (_, i) => work(`w${i}`, 60_000, { p90Ms: 80_000 }))
  const p50 = (more: Partial<ForecastInput>) => forecast(input(many, more)).finishMs.p50
  expect(p50({ agents: [{ id: 'x', seats: 4, environments: ['a'] }] })).toBeLessThan(p50({}))
  expect(p50({ agentLossPerHour: 20 })).toBeGreaterThan(p50({}))
})
test('order and what is held alone hold in every draw', () => {
  const chain = [
    work('a', 10_000, { p90Ms: 14_000 }),
    work('b', 10_000, { after: ['a'], exclusive: ['desk'] }),
    work('c', 10_000, { exclusive: ['desk'] }),
  ]
  expect(forecast(input(chain)).finishMs.p10).toBeGreaterThanOrEqual(16_000)
})
test('everywhere, each agent is forecast by itself; what cannot be placed is named', () => {
  const answer = forecast(
    input([work('p', 5000), work('q', 5000, { environment: 'z' })], {
      spread: 'everywhere',
      agents: [
        { id: 'x', seats: 1, environments: ['a'] },
        { id: 'y', seats: 1, environments: ['a'], speed: 0.5 },
      ],
    }),
  )
  expect(answer.byLane).toEqual([
    { agent: 'x', seat: 1, p50: 5000, p90: 5000 },
    { agent: 'y', seat: 1, p50: 10_000, p90: 10_000 },
  ])
  expect(answer.unplaceable.map(({ work: id }) => id)).toEqual(['q'])
})

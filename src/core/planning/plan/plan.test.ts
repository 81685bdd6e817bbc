import fc from 'fast-check'
import { randomFrom } from '../../execution/random'
import { plan, type PlanInput, type PlanWork } from '.'
import { cutFromFull } from './testing/full-seats'
import { agent, work, made, faultsOf, bestMakespan } from './testing/checking'

const someWork = (most: number, joint: boolean) =>
  fc
    .array(
      fc.record({
        environment: fc.constantFrom('a', 'b'),
        ms: fc.integer({ min: 0, max: 9000 }),
        after: fc.array(fc.nat(most), { maxLength: 2 }),
        exclusive: fc.uniqueArray(fc.constantFrom('desk', 'gate'), { maxLength: 2 }),
        priority: fc.integer({ min: -1, max: 2 }),
        together: joint
          ? fc.option(fc.constantFrom('x', 'y'), { nil: undefined, freq: 3 })
          : fc.constant(undefined),
      }),
      { minLength: 1, maxLength: most },
    )
    .map((list) =>
      list.map(({ after, together, ...one }, i): PlanWork => ({
        ...one,
        id: `w${i}`,
        after: [...new Set(after.filter((j) => j < i).map((j) => `w${j}`))],
        ...(together !== undefined && { together }),
      })),
    )

const someAgents = fc
  .array(
    fc.record({
      seats: fc.integer({ min: 1, max: 2 }),
      environments: fc.constantFrom<string[]>(['a'], ['b'], ['a', 'b']),
      speed: fc.constantFrom(1, 1, 2, 0.7),
    }),
    { minLength: 1, maxLength: 3 },
  )
  .map((list) => list.map((one, i) => ({ ...one, id: `agent-${i}` })))

const quick = { spread: 'split' as const, budgetMs: 40 }

test('whatever is asked, the plan keeps every promise and its bound is one', () => {
  fc.assert(
    fc.property(
      someAgents,
      someWork(14, true),
      fc.integer({ min: 0, max: 5000 }),
      fc.option(fc.integer({ min: 2000, max: 30_000 }), { nil: null }),
      (agents, list, now, until) => {
        const input: PlanInput = {
          agents: agents.map((one, i) => ({
            ...one,
            ...(i === 0 && until !== null && { until: now + until }),
            from: now + (i % 2) * 1500,
          })),
          work: list,
          now,
          ...quick,
        }
        expect(faultsOf(input, plan(input))).toEqual([])
      },
    ),
    { numRuns: 150 },
  )
})

test('a few items are planned as well as can be: no order and no choice of seats ends earlier', () => {
  fc.assert(
    fc.property(
      someAgents.filter((agents) => agents.reduce((sum, { seats }) => sum + seats, 0) <= 3),
      someWork(5, false),
      (agents, list) => {
        const able = new Set(agents.flatMap(({ environments }) => environments))
        const input: PlanInput = {
          agents,
          work: list.map((one) => ({
            ...one,
            environment: able.has(one.environment) ? one.environment : [...able][0]!,
          })),
          ...quick,
          budgetMs: 500,
        }
        const output = plan(input)
        expect(output.unplaceable).toEqual([])
        expect(output.makespanMs).toBe(bestMakespan(input))
      },
    ),
    { numRuns: 80 },
  )
})

test('with order and exclusives between a thousand items the plan is within two in a hundred of the optimum', () => {
  const random = randomFrom(5)
  for (let k = 0; k < 3; k++) {
    const input = {
      ...cutFromFull({ agents: 20, seats: 3, each: 17, environments: 5, endMs: 600_000, ties: 400, random }),
      budgetMs: 300,
    }
    const output = plan(input)
    expect(faultsOf(input, output)).toEqual([])
    expect(output.makespanMs).toBeLessThan(612_000)
  }
})

test('the same input and seed give the same plan, whatever the clock shows', () => {
  const input: PlanInput = {
    agents: [agent('x', 3, ['a', 'b'])],
    work: Array.from({ length: 40 }, (_, i) =>
      work(`w${i}`, 1000 + ((i * 7919) % 5000), {
        environment: i % 3 ? 'a' : 'b',
        ...(i % 5 === 0 && i > 0 && { after: [`w${i - 1}`] }),
      }),
    ),
    ...quick,
  }
  expect(plan(input)).toEqual(plan(input, () => 0))
})

describe('what cannot be done is named, with the reason', () => {
  const seats = [agent('x', 2, ['a']), agent('y', 1, ['b'], { until: 5000 })]
  test.each<[string, PlanWork[], Record<string, RegExp>]>([
    [
      'an environment nobody serves, and who follows',
      [work('p', 1, { environment: 'q' }), work('r', 1, { after: ['p'] }), work('s', 1)],
      { p: /serves the environment “q”/, r: /follows “p”/ },
    ],
    [
      'a circle, and who follows it',
      [work('p', 1, { after: ['r'] }), work('r', 1, { after: ['p'] }), work('s', 1, { after: ['r'] })],
      { p: /circle: .*p.*r/, r: /circle/, s: /follows “r”/ },
    ],
    ['itself', [work('p', 1, { after: ['p'] })], { p: /itself/ }],
    ['what is not there', [work('p', 1, { after: ['nobody'] })], { p: /“nobody”, which is not there/ }],
    ['an agent that is not there', [work('p', 1, { agent: 'z' })], { p: /“z” is not there/ }],
    ['an agent that does not serve it', [work('p', 1, { agent: 'y' })], { p: /“y” does not serve/ }],
    [
      'joint work on too few seats',
      ['p', 'r', 's'].map((id) => work(id, 1, { together: 'j' })),
      { p: /3 seats at once, and only 2/, r: /3 seats/, s: /3 seats/ },
    ],
    [
      'joint work of which one cannot',
      [work('p', 1, { together: 'j' }), work('r', 1, { together: 'j', environment: 'q' })],
      { p: /./, r: /“q”/ },
    ],
    [
      'joint work that wants the same alone',
      [
        work('p', 1, { together: 'j', exclusive: ['desk'] }),
        work('r', 1, { together: 'j', exclusive: ['desk'] }),
      ],
      { p: /itself alone/, r: /itself alone/ },
    ],
    ['longer than its seat is open', [work('p', 6000, { environment: 'b' })], { p: /longer than any seat/ }],
  ])('%s', (_, list, expected) => {
    const { unplaceable } = plan({ agents: seats, work: list, ...quick })
    expect(unplaceable.map((one) => one.work).sort()).toEqual(Object.keys(expected).sort())
    for (const { work: id, reason } of unplaceable) expect(reason).toMatch(expected[id]!)
  })
  test('windows that cannot hold all hold as much as fits, the higher priority first', () => {
    const output = plan({
      agents: [agent('x', 1, ['a'], { until: 5000 })],
      work: [
        work('low', 2000),
        work('high', 3000, { priority: 2 }),
        work('also', 2000, { priority: 1 }),
        work('small', 100),
      ],
      ...quick,
    })
    expect([...made(output).keys()].sort()).toEqual(['also', 'high'])
    expect(output.unplaceable.map(({ reason }) => reason)).toEqual(
      Array(2).fill('it does not fit before the seats that could do it close'),
    )
  })
  test('an id twice is bad input, with its place', () => {
    expect(() => plan({ agents: seats, work: [work('p', 1), work('p', 2)], ...quick })).toThrow(
      'work/1/id: “p” is there twice',
    )
  })
})

describe('spreads', () => {
  const agents = [agent('slow', 2, ['a']), agent('quick', 2, ['a', 'b'], { speed: 2 })]
  const list = [work('p', 4000), work('r', 6000), work('s', 2000, { environment: 'b' })]
  test('in sequence all is on one seat of the agent that can do it, and ends soonest', () => {
    const output = plan({ agents, work: list, spread: 'sequence', budgetMs: 40 })
    expect(
      output.lanes
        .filter(({ items }) => items.length > 0)
        .map(({ agent: name, items }) => [name, items.length]),
    ).toEqual([['quick', 3]])
    expect(output.makespanMs).toBe(2000 + 3000 + 1000 + 4000)
  })
  test('everywhere each able agent does all of it, under its own name', () => {
    const output = plan({
      agents,
      work: list.map((one) => (one.id === 'r' ? { ...one, after: ['p'] } : one)),
      spread: 'everywhere',
      budgetMs: 40,
    })
    const placed = made(output)
    expect([...placed.keys()].sort()).toEqual(['p@quick', 'p@slow', 'r@quick', 'r@slow', 's@quick'])
    for (const at of ['quick', 'slow'])
      expect(placed.get(`r@${at}`)!.startMs).toBeGreaterThanOrEqual(placed.get(`p@${at}`)!.endMs)
  })
  test('assigned work goes to its agent, and what nobody was given is named', () => {
    const output = plan({
      agents,
      work: [work('p', 100, { agent: 'slow' }), work('r', 100)],
      spread: 'assigned',
      budgetMs: 40,
    })
    expect(made(output).get('p')!.agent).toBe('slow')
    expect(output.unplaceable).toEqual([{ work: 'r', reason: 'no agent is assigned to it' }])
  })
  test('of equals on a seat the higher priority starts first', () => {
    const output = plan({
      agents: [agent('x', 1, ['a'])],
      work: [1, 0, 2, -1].map((priority, i) => work(`w${i}`, 1000, { priority })),
      ...quick,
    })
    expect(output.lanes[0]!.items.map((item) => item.work)).toEqual(['w2', 'w0', 'w1', 'w3'])
  })
})

test.each<[string, PlanInput, string, number]>([
  [
    'much work on few seats',
    {
      agents: [agent('x', 2, ['a'])],
      work: Array.from({ length: 8 }, (_, i) => work(`w${i}`, 1000)),
      ...quick,
    },
    'load',
    4000,
  ],
  [
    'a chain',
    {
      agents: [agent('x', 3, ['a'])],
      work: [work('p', 1000), work('r', 1000, { after: ['p'] }), work('s', 1000, { after: ['r'] })],
      ...quick,
    },
    'critical-path',
    3000,
  ],
  [
    'one thing for many',
    {
      agents: [agent('x', 3, ['a'])],
      work: ['p', 'r', 's'].map((id) => work(id, 1000, { exclusive: ['desk'] })),
      ...quick,
    },
    'exclusive',
    3000,
  ],
  [
    'one long piece',
    { agents: [agent('x', 3, ['a'])], work: [work('p', 9000), work('r', 1000)], ...quick },
    'single-item',
    9000,
  ],
  [
    'seats that open late',
    {
      agents: [agent('x', 2, ['a'], { from: 5000 })],
      work: [work('p', 1000), work('r', 1000), work('s', 1000), work('t', 1000)],
      ...quick,
    },
    'window',
    7000,
  ],
])('the bound of %s is told by its kind, and reached', (_, input, bound, ms) => {
  expect(plan(input)).toMatchObject({ bound, boundMs: ms, makespanMs: ms })
})

test('no work and no seats are no trouble', () => {
  expect(plan({ agents: [agent('x', 1, ['a'])], work: [], ...quick })).toMatchObject({
    makespanMs: 0,
    boundMs: 0,
    utilisation: 0,
    unplaceable: [],
  })
  expect(plan({ agents: [], work: [work('p', 1)], ...quick }).unplaceable).toEqual([
    { work: 'p', reason: 'no agent serves the environment “a”' },
  ])
})

import type { RotationWhere } from '../model'
import { laneOf, lanePieces, lanesOfPlan, withLane } from './lanes'
import { outlook, type OutlookBasis } from './outlook'

const ENVIRONMENTS = ['wide', 'narrow']

test('a case on one environment goes before the case wherever it runs', () => {
  const lanes = { board: 'maren-01', 'board@narrow': 'skerry-02' }
  expect(ENVIRONMENTS.map((one) => laneOf(lanes, 'board', one))).toEqual(['maren-01', 'skerry-02'])
  expect(laneOf(lanes, 'refuse', 'wide')).toBeUndefined()
})

test.each([
  ['one of two', {}, 'narrow', 'a', { 'board@narrow': 'a' }],
  ['the other as well', { 'board@wide': 'a' }, 'narrow', 'a', { board: 'a' }],
  [
    'one of those of a case that was said once',
    { board: 'a' },
    'narrow',
    'b',
    { 'board@wide': 'a', 'board@narrow': 'b' },
  ],
  ['to nobody', { board: 'a' }, 'wide', undefined, { 'board@narrow': 'a' }],
  ['back to the same', { 'board@wide': 'a', 'board@narrow': 'b' }, 'narrow', 'a', { board: 'a' }],
])('given: %s', (_, before, environment, agent, after) => {
  const piece = { case: 'board', environment }
  const others = { refuse: 'c' }
  expect(withLane({ ...before, ...others }, piece, agent, ENVIRONMENTS)).toEqual({ ...others, ...after })
})

describe('beginning from the plan', () => {
  const minutes = { p50Ms: 60_000, p90Ms: 70_000, failRate: 0 }
  const cases = ['board', 'refuse', 'count']
  const basis: OutlookBasis = {
    items: cases.map((key) => ({ case: key, title: key, after: [], exclusive: [], priority: 0 })),
    estimates: Object.fromEntries(cases.map((key) => [key, { wide: minutes, narrow: minutes }])),
    environments: ENVIRONMENTS.map((key) => ({
      key,
      title: key,
      browser: key,
      os: 'O',
      width: 800,
      height: 600,
      locale: 'en-GB',
      simulated: true,
    })),
    agents: [
      { name: 'maren-01', pool: 'P', seats: 1, environments: ['wide'] },
      { name: 'skerry-02', pool: 'P', seats: 1, environments: ['narrow'] },
    ],
  }
  const where: RotationWhere = {
    environments: [...ENVIRONMENTS],
    cover: 'all',
    never: [],
    always: [],
    spread: 'split',
    leaveOut: false,
    lanes: {},
  }
  const rotation = { where, retries: 0 }

  test('every case has the agent that the plan has for it on each environment', () => {
    const lanes = lanesOfPlan(outlook(rotation, basis), basis)
    for (const { case: key, environment } of lanePieces(basis, ENVIRONMENTS))
      expect(laneOf(lanes, key, environment)).toBe(environment === 'wide' ? 'maren-01' : 'skerry-02')
  })
  test('and the outlook by hand is then that of the plan: nothing without a place, the same end', () => {
    const planned = outlook(rotation, basis)
    const byHand = outlook(
      { ...rotation, where: { ...where, spread: 'assigned', lanes: lanesOfPlan(planned, basis) } },
      basis,
    )
    expect(byHand.unplaceable).toEqual([])
    expect(byHand.faults).toEqual([])
    expect(byHand.makespanMs).toBe(planned.makespanMs)
  })
  test('a piece that is left to nobody is told, the others are not', () => {
    const lanes = lanesOfPlan(outlook(rotation, basis), basis)
    const less = withLane(lanes, { case: 'board', environment: 'narrow' }, undefined, ENVIRONMENTS)
    const { unplaceable } = outlook(
      { ...rotation, where: { ...where, spread: 'assigned', lanes: less } },
      basis,
    )
    expect(unplaceable).toMatchObject([{ count: 1, environment: 'narrow' }])
  })
})

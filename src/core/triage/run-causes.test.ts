import { causesOfRun, type RunFailure } from './run-causes'

const ENVIRONMENTS = ['chromium', 'firefox', 'webkit']
const CASES = ['single', 'return', 'refund', 'board']
const idOf = (caseKey: string, environment: string) => `${caseKey} ${environment}`
const ended = CASES.flatMap((caseKey) =>
  ENVIRONMENTS.map((environment) => ({
    id: idOf(caseKey, environment),
    caseKey,
    environment,
    factors: { browser: environment, agent: `${environment}-01` },
  })),
)
const failure = (caseKey: string, environment: string, more: Partial<RunFailure> = {}): RunFailure => ({
  id: idOf(caseKey, environment),
  kind: 'check',
  message: 'the fare total is not what was expected: 86.00, found 89.20',
  caseKey,
  environment,
  agent: `${environment}-01`,
  isNew: true,
  ...more,
})

test('each failure is in one group; where it happens is told by figures', () => {
  const failures = [
    ...CASES.map((key) =>
      failure(key, 'webkit', { kind: 'target', message: 'Find sailings is not on the page' }),
    ),
    failure('refund', 'chromium'),
    failure('refund', 'firefox'),
  ]
  const causes = causesOfRun({ failures, ended, unhealthyAgents: [], decisions: [] })
  expect(causes.flatMap(({ members }) => members).toSorted()).toEqual(failures.map(({ id }) => id).toSorted())
  expect(causes).toHaveLength(2)
  expect(causes[0]).toMatchObject({ cases: 4, environments: { failed: 1, of: 3 } })
  expect(causes[0]!.where[0]).toMatchObject({ failed: 4, of: 4, elsewhereFailed: 0, elsewhereOf: 8 })
  expect(causes[1]).toMatchObject({ cases: 1, environments: { failed: 2, of: 3 } })
})

test('what a lost agent took down is likelier the environment than the product', () => {
  const lost = CASES.map((key) =>
    failure(key, 'webkit', { kind: 'agent', message: 'The agent was lost: its lease ran out' }),
  )
  const [one] = causesOfRun({ failures: lost, ended, decisions: [], unhealthyAgents: ['webkit-01'] })
  expect(one!.likely[0]!.cause).toBe('environment-fault')
  expect(one!.because.length).toBeGreaterThan(0)
})

test('what failed now and then before speaks for the test or the environment, and says so', () => {
  const causes = (flaky: number) =>
    causesOfRun({
      failures: ENVIRONMENTS.map((one) => failure('refund', one, { flakyBefore: flaky, isNew: false })),
      ended,
      unhealthyAgents: [],
      decisions: [],
    })
  const product = (flaky: number) =>
    causes(flaky)[0]!.likely.find(({ cause }) => cause === 'product-defect')!.likelihood
  expect(product(0.5)).toBeLessThan(product(0))
  expect(causes(0.5)[0]!.facts.flakyBefore).toBe(0.5)
})

test('what is known of the build before is a reason, and what is not is none', () => {
  const because = (isNew: boolean | undefined) =>
    causesOfRun({
      failures: ENVIRONMENTS.map((environment) => {
        const { isNew: _, ...one } = failure('refund', environment)
        return { ...one, ...(isNew !== undefined && { isNew }) }
      }),
      ended,
      unhealthyAgents: [],
      decisions: [],
    })[0]!.because.filter((text) => /build/.test(text))
  expect(because(true)).toEqual(['it is new in this build'])
  expect(because(undefined)).toEqual([])
})

test('no failures are no causes; one alone is one, with nothing to tell it apart by', () => {
  expect(causesOfRun({ failures: [], ended, unhealthyAgents: [], decisions: [] })).toEqual([])
  const [one] = causesOfRun({
    failures: [failure('single', 'firefox')],
    ended,
    unhealthyAgents: [],
    decisions: [],
  })
  expect(one).toMatchObject({ members: ['single firefox'], where: [] })
  expect(one!.likely[0]!.likelihood).toBeGreaterThanOrEqual(one!.likely[1]!.likelihood)
})

test('failures without anything beside them in the run are told apart all the same', () => {
  const causes = causesOfRun({
    failures: [failure('single', 'firefox')],
    ended: [],
    unhealthyAgents: [],
    decisions: [],
  })
  expect(causes[0]!.environments).toEqual({ failed: 1, of: 1 })
})

test('tries that passed when they were tried again speak with the failures of their cause, and are none', () => {
  const failures = CASES.map((key) => failure(key, 'webkit'))
  const putRight = ENVIRONMENTS.map((one) => failure('single', one, { id: `again ${one}` }))
  const other = failure('board', 'firefox', {
    id: 'other',
    kind: 'target',
    message: 'Board is not on the page',
  })
  const causesWith = (tries: RunFailure[]) =>
    causesOfRun({ failures, ended, unhealthyAgents: [], decisions: [], putRight: tries })
  const [cause, ...more] = causesWith([...putRight, other])
  expect(more).toEqual([])
  expect(cause!.members).toEqual(failures.map(({ id }) => id))
  expect(cause!.facts.recovered).toBeCloseTo(3 / 7)
  const product = (one: typeof cause) =>
    one!.likely.find((likely) => likely.cause === 'product-defect')!.likelihood
  expect(product(cause)).toBeLessThan(product(causesWith([])[0]))
})

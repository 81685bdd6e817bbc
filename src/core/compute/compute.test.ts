import { BadInput, compute, COMPUTATION_NAMES, schemaOf } from '.'

const faults = (name: string, input: unknown) => {
  try {
    compute(name, input)
  } catch (error) {
    if (error instanceof BadInput) return error.faults
    throw error
  }
  throw new Error('nothing was wrong with it')
}

test('each name has a schema, other names have none', () => {
  for (const name of COMPUTATION_NAMES) expect(schemaOf(name)).toMatchObject({ type: 'object' })
  expect([schemaOf('nothing'), schemaOf('toString'), schemaOf('__proto__')]).toEqual([
    undefined,
    undefined,
    undefined,
  ])
})
test.each([
  ['matrix', { axes: { a: [] }, strength: 4 }, ['axes/a', 'strength']],
  ['matrix', { strength: 2 }, ['axes']],
  ['matrix', { axes: { a: ['x'] }, strength: 2, rules: [] }, ['rules']],
  ['matrix', { axes: { a: ['x'] }, strength: 2, forbid: [{ a: 'y' }, {}] }, ['forbid/1']],
  [
    'plan',
    {
      agents: [{ id: 'x', seats: -1, environments: [] }],
      work: [{ id: 'w', environment: 'a', ms: 1.5 }],
      spread: 'wide',
    },
    ['agents/0/seats', 'work/0/ms', 'spread'],
  ],
  ['occurrences', { rule: null, timezone: 'UTC', start: 'now', from: '2026-01-01T00:00:00Z' }, ['to']],
  [
    'occurrences',
    {
      rule: null,
      timezone: 'Nowhere',
      start: '2026-01-01T00:00',
      from: '2026-01-01T00:00:00Z',
      to: '2026-01-02T00:00:00Z',
    },
    ['timezone'],
  ],
  ['clashes', [], ['']],
])('%s: every fault is told with its place', (name, input, paths) =>
  expect(
    faults(name, input)
      .map(({ path }) => path)
      .sort(),
  ).toEqual([...paths].sort()),
)
test('what is sound is computed', () =>
  expect(compute('matrix', { axes: { a: ['x', 'y'] }, strength: 'all' })).toMatchObject({
    rows: [{ a: 'x' }, { a: 'y' }],
  }))

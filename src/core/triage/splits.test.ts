import { partsOf, splitWords } from './splits'

const member = (caseKey: string, environmentKey: string, agent = 'maren-01') => ({
  caseKey,
  title: `Case ${caseKey}`,
  environmentKey,
  environment: `On ${environmentKey}`,
  agent,
})

test('parts are what some members have and others have not, the largest first', () =>
  expect(
    partsOf([member('board', 'tablet'), member('board', 'handset'), member('count', 'handset')]),
  ).toEqual([
    { by: 'case', value: 'board', label: 'Case board', count: 2 },
    { by: 'environment', value: 'handset', label: 'On handset', count: 2 },
    { by: 'case', value: 'count', label: 'Case count', count: 1 },
    { by: 'environment', value: 'tablet', label: 'On tablet', count: 1 },
  ]))
test('where all are alike there is no part, and of one failure neither', () => {
  expect(partsOf([member('board', 'tablet'), member('board', 'tablet')])).toEqual([])
  expect(partsOf([member('board', 'tablet')])).toEqual([])
  expect(partsOf([])).toEqual([])
})
test('a case and an agent that are called the same are two parts; no agent is none', () =>
  expect(partsOf([member('a', 'e', 'a'), member('b', 'e', '')]).map(({ by, value }) => [by, value])).toEqual([
    ['case', 'a'],
    ['case', 'b'],
    ['agent', 'a'],
  ]))

test.each([
  ['case', 'Find sailings', 'in “Find sailings”'],
  ['environment', 'Harbour tablet', 'on Harbour tablet'],
  ['agent', 'maren-01', 'on agent maren-01'],
  ['words', 'gate', 'saying “gate”'],
] as const)('a part told by its %s is called so', (by, label, words) =>
  expect(splitWords(by, label)).toBe(words),
)

import { causeBy, learnt } from './cause'
import {
  byUrgency,
  causeDecided,
  DECISIONS,
  examplesOf,
  overRuns,
  standsFor,
  type Decision,
} from './decisions'
import { CAUSES } from './evidence'
import type { GroupFacts } from './evidence'

const facts = (kind: string): GroupFacts => ({
  kinds: { [kind]: 3 },
  failures: 3,
  cases: 2,
  environments: { failed: 1, of: 3 },
  where: [],
  flakyBefore: 0,
  agents: { involved: 1, unhealthy: 0 },
  recovered: 0,
  similar: [],
})
const decision = (as: Decision['as'], kind = 'check'): Decision => ({
  signature: `1 ${kind} ${as}`,
  as,
  build: '2026.11.3',
  facts: facts(kind),
})

test('each decision says a kind of cause, but that it is no failure', () => {
  expect(DECISIONS.map(causeDecided)).toEqual([
    'product-defect',
    'product-defect',
    'test-fault',
    'environment-fault',
    'test-data',
    'intended-change',
    'unclear',
    undefined,
  ])
  expect(CAUSES.every((cause) => DECISIONS.some((as) => causeDecided(as) === cause))).toBe(true)
})

test('a decision stands for its build, and for no other', () => {
  expect(standsFor(decision('unclear'), '2026.11.3')).toBe(true)
  expect(standsFor(decision('unclear'), '2026.11.4')).toBe(false)
})

test('likelihoods move with what was decided; what is no failure teaches nothing', () => {
  const likelihood = (decisions: Decision[]) =>
    causeBy(learnt(examplesOf(decisions)), facts('target')).likelihoods['environment-fault']
  const taught = Array.from({ length: 8 }, () => decision('environment-fault', 'target'))
  expect(likelihood(taught)).toBeGreaterThan(likelihood([]) + 0.2)
  expect(likelihood(Array.from({ length: 8 }, () => decision('no-failure', 'target')))).toBe(likelihood([]))
})

test('what is to be decided comes first: of the newest build, new, and large before others', () => {
  const one = (name: string, failures: number, marks: string) => ({
    name,
    failures,
    isCurrent: marks.includes('current'),
    isNew: marks.includes('new'),
    isDecided: marks.includes('decided'),
    blocked: 0,
    waiting: 0,
    likely: 0.4,
  })
  const all = [
    one('decided', 9, 'current new decided'),
    one('of another build', 50, 'new'),
    one('old', 5, 'current'),
    one('small', 1, 'current new'),
    one('large', 4, 'current new'),
    one('decided before', 90, 'decided'),
  ]
  expect(byUrgency(all).map(({ name }) => name)).toEqual([
    'large',
    'small',
    'old',
    'of another build',
    'decided',
    'decided before',
  ])
})

test('what more hangs on comes first, as far as it is the product, and what is larger after that', () => {
  const one = (
    name: string,
    more: { blocked?: number; waiting?: number; likely?: number; failures?: number },
  ) => ({
    name,
    ...{ failures: 3, isCurrent: true, isNew: true, isDecided: false, blocked: 0, waiting: 0, likely: 0.4 },
    ...more,
  })
  const all = [
    one('large', { failures: 90 }),
    one('likely the product', { likely: 0.9 }),
    one('blocks two', { blocked: 2 }),
    one('blocks two, and is the environment', { blocked: 2, likely: 0.05 }),
    one('small', { likely: 0.4049 }),
    one('two wait, of one that blocks one', { waiting: 2, blocked: 1 }),
  ]
  expect(byUrgency(all).map(({ name }) => name)).toEqual([
    'two wait, of one that blocks one',
    'blocks two',
    'likely the product',
    'large',
    'small',
    'blocks two, and is the environment',
  ])
})

test('a cause that several runs have is one, with the newest run first', () => {
  const of = (signature: string, run: number) => ({ signature, run })
  const groups = overRuns([of('covered', 9), of('fare', 9), of('covered', 8), of('toString', 7)])
  expect(groups.map((group) => group.map(({ run }) => run))).toEqual([[9, 8], [9], [7]])
  expect(overRuns([])).toEqual([])
})

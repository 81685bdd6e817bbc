import { completionsAt, type Offers } from './complete'

const offers: Offers = {
  routines: [
    { key: 'pay-by-card', title: 'Pay by card' },
    { key: 'sign-in', title: 'Sign in' },
  ],
  tables: ['fares.csv'],
  cases: ['board'],
  suites: ['smoke'],
  applications: ['booking', 'gate'],
  names: ['port'],
  columns: ['fare'],
  generators: ['fake.name', 'date'],
}
const at = (text: string, kind: 'case' | 'suite' = 'case') => completionsAt(kind, text, offers)
const labels = (text: string, kind: 'case' | 'suite' = 'case') =>
  at(text, kind)?.options.map(({ label }) => label) ?? []

test.each<[string, string, string[]]>([
  ['keys of a case', 'case: a\nti', ['title: ']],
  ['verbs', 'steps:\n  - cl', ['click: ']],
  ['what a verb takes', 'steps:\n  - hover: { o', ['on: ']],
  ['ways to find something', 'steps:\n  - click: { on: { rol', ['role: ']],
  ['after a closed brace, the outer keys', 'steps:\n  - type: { in: { label: A }, val', ['value: ']],
  ['matchers', 'steps:\n  - check: { of: { text: x }, text: { eq', ['equals: ']],
  ['routines', 'steps:\n  - use: pay', ['pay-by-card']],
  ['entry states', 'case: a\nentry: sig', ['sign-in']],
  ['tables', 'data: f', ['fares.csv']],
  ['applications', 'steps:\n  - open: ga', ['gate:/']],
  ['values', 'steps:\n  - type: { in: { label: A }, value: "${po', ['port']],
  ['columns', '  - x: "${row.', ['row.fare']],
  ['generators', '  - x: "${fake', ['fake.name']],
  ['priorities', 'case: a\npriority: cri', ['critical']],
  ['states of an element', '  - wait: { for: { text: A }, state: hid', ['hidden']],
  ['fields of any step', 'steps:\n  - open: a:/\n    beca', ['because: ']],
])('%s', (_, text, expected) => expect(labels(text)).toEqual(expected))
test('in a suite: cases, suites, settings', () => {
  expect(labels('entries:\n  - case: bo', 'suite')).toEqual(['board'])
  expect(labels('entries:\n  - { suite: smo', 'suite')).toEqual(['smoke'])
  expect(labels('entries:\n  - case: a\n    onF', 'suite')).toEqual(['onFailure: '])
})
test('an option takes the place of the word that was begun', () => expect(at('case: a\nti')?.from).toBe(8))
test('nothing is offered where anything may stand', () => expect(labels('title: Some wo')).toEqual([]))

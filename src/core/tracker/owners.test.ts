import { ownerOf, ownerProblems, type OwnerRule } from './owners'

const rule = (name: string, more: Partial<OwnerRule> = {}): OwnerRule => ({
  application: '',
  tag: '',
  folder: '',
  name,
  mail: '',
  ...more,
})
const APPLICATIONS = [
  { key: 'booking', title: 'Booking', owner: 'Booking crew', mail: 'booking@fennel-sound.invalid' },
  { key: 'gate', title: 'Gate', owner: '', mail: '' },
]
const FACTS = { application: 'booking', tags: ['money', 'smoke'], file: 'cases/fares/refund.case.yaml' }
const owner = (rules: OwnerRule[], facts = {}) => ownerOf(rules, { ...FACTS, ...facts }, APPLICATIONS)

test.each<[string, OwnerRule[], object, string | undefined, string | undefined]>([
  ['its application', [], {}, 'Booking crew', 'it is of Booking'],
  ['nobody, where its application names nobody', [], { application: 'gate' }, undefined, undefined],
  ['nobody, of an application that is not there', [], { application: null }, undefined, undefined],
  ['a tag', [rule('Money', { tag: 'money' })], {}, 'Money', 'the case has the tag money'],
  ['a folder', [rule('Fares', { folder: '/cases/fares/' })], {}, 'Fares', 'the case is in cases/fares'],
  ['a folder above', [rule('Cases', { folder: 'cases' })], {}, 'Cases', 'the case is in cases'],
  ['no part of a name', [rule('Fares', { folder: 'cases/far' })], {}, 'Booking crew', 'it is of Booking'],
  [
    'no file as a folder',
    [rule('X', { folder: 'cases/fares/refund.case.yaml' })],
    {},
    'Booking crew',
    'it is of Booking',
  ],
  [
    'all that a rule names',
    [
      rule('Gate money', { application: 'gate', tag: 'money' }),
      rule('Both', { application: 'booking', tag: 'money' }),
    ],
    {},
    'Both',
    'it is of Booking, the case has the tag money',
  ],
  [
    'the first that fits',
    [rule('One', { tag: 'smoke' }), rule('Two', { tag: 'money' })],
    {},
    'One',
    'the case has the tag smoke',
  ],
  [
    'a rule for the rest',
    [rule('Two', { tag: 'sea' }), rule('Rest')],
    {},
    'Rest',
    'it is the rule for all that no other fits',
  ],
])('a defect is owned by %s', (_, rules, facts, name, because) => {
  expect(owner(rules, facts)?.name).toBe(name)
  expect(owner(rules, facts)?.because).toBe(because)
})

test('a rule names somebody, an address that is one, and leaves something to those after it', () => {
  expect(
    ownerProblems([rule(' ', { tag: 'x' }), rule('', { mail: 'nobody' }), rule('All'), rule('Rest')]),
  ).toEqual([
    'Rule 1 names nobody: a name or an address.',
    'Rule 2: “nobody” is no address.',
    'Rule 3 fits everything: those after it are never asked.',
  ])
  expect(ownerProblems([rule('', { tag: 'x', mail: 'sea@fennel-sound.invalid' }), rule('Rest')])).toEqual([])
})

import type { Step } from '../model'
import { offeredNames, parameterName, withNamed, withWritten, writtenIn } from '.'

const type = (value: string): Step => ({ verb: 'type', in: { label: 'Name of the first passenger' }, value })
const check = (equals: string): Step => ({
  verb: 'check',
  of: { testId: 'x' },
  subject: 'text',
  matcher: { equals },
  soft: false,
})
const VALUES = { reference: 'FS-40121', lead: 'Isla Fenwick', 'row.name': 'Isla Fenwick', count: '1' }

test.each<[string, Step, string[]]>([
  ['the same as one that was read', type('FS-40121'), ['reference']],
  ['of the row before others', type('Isla Fenwick'), ['row.name', 'lead']],
  ['in a check, too', check('FS-40121'), ['reference']],
  ['none for one letter: it is like too many', type('1'), []],
  [
    'one letter where the field is called so',
    { verb: 'type', in: { label: 'Count' }, value: '1' },
    ['count'],
  ],
  ['none for what is no value', type('Edda'), []],
  ['none for a reference', type('${reference}'), []],
  ['in what an element is found by', { verb: 'click', on: { text: 'Open FS-40121' } }, ['reference']],
  ['in an address', { verb: 'open', address: 'gate:/passengers/FS-40121' }, ['reference']],
  ['none for a step without one', { verb: 'go', to: 'back' }, []],
  ['none for a few letters of another text', { verb: 'click', on: { text: 'Go to 1' } }, []],
])('names offered: %s', (_, step, names) => expect(offeredNames(step, VALUES)).toEqual(names))

test('a parameter is called as its field is, and never as another', () => {
  expect(parameterName(type('x'), [])).toBe('name_of_the_first_passenger')
  expect(parameterName(type('x'), ['name_of_the_first_passenger'])).toBe('name_of_the_first_passenger_2')
  expect(parameterName({ verb: 'type', in: { css: '#x' }, value: 'x' }, [])).toBe('value')
  expect(parameterName({ verb: 'type', in: { label: '2. Stück' }, value: 'x' }, [])).toMatch(
    /^[a-z][a-z0-9_]*$/,
  )
})

test('a name stands in place of its value, wherever that is', () => {
  expect(withNamed({ verb: 'open', address: 'gate:/p/FS-1234' }, 'ref', 'FS-1234')).toEqual({
    verb: 'open',
    address: 'gate:/p/${ref}',
  })
  expect(withNamed(type('FS-1234'), 'ref', 'FS-1234')).toMatchObject({ value: '${ref}' })
  const click: Step = { verb: 'click', on: { role: 'row', name: 'FS-1234 booked' } }
  expect(withNamed(click, 'ref', 'FS-1234')).toEqual({
    verb: 'click',
    on: { role: 'row', name: '${ref} booked' },
  })
  expect(withNamed(click, 'what', 'click').verb).toBe('click')
})

test('what was written is replaced where it stands, and nothing else', () => {
  expect(withWritten(type('Edda'), '${lead}')).toEqual({ ...type('Edda'), value: '${lead}' })
  expect(writtenIn(withWritten(check('FS-40121'), '${reference}'))).toBeUndefined()
  const click: Step = { verb: 'click', on: { text: 'Go' } }
  expect(withWritten(click, 'x')).toBe(click)
})

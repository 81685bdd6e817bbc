import fc from 'fast-check'
import { fill, referencesIn } from '.'
import { generate, GENERATORS } from './generating'

const NOW = '2026-03-30T23:30:00.000Z'
const made = (expression: string, seed = 1, place = 'main.0') => generate(expression, seed, place, NOW)

test.each<[string, RegExp]>([
  ['fake.name', /^[A-Z]\w+ [A-Z]\w+$/],
  ['fake.email', /^[a-z.]+\.\d{4}@fennel-sound\.invalid$/],
  ['fake.number(1,9)', /^[1-9]$/],
  ['fake.number(-3, -3)', /^-3$/],
  ['fake.phone', /^555 01\d{4}$/],
  ['fake.text(3)', /^\w+ \w+ \w+$/],
  ["fake.pick(a, 'b c')", /^(a|b c)$/],
  ['fake.id', /^[a-z0-9]{8}$/],
  ['fake.firstName', /^[A-Z]/],
  ['fake.lastName', /^[A-Z]/],
  ['fake.word', /^[a-z]+$/],
  ["date(+3d, 'yyyy-MM-dd')", /^2026-04-02$/],
  ['date', /^2026-03-30$/],
  ["date(-1M, 'd LLLL yyyy')", /^28 February 2026$/],
  ["date(+45m, 'HH:mm')", /^00:15$/],
  ['date(+1y, "dd/MM/yyyy")', /^30\/03\/2027$/],
])('%s', (expression, form) => expect(made(expression)).toMatch(form))
test.each([
  'fake.number(9,1)',
  'fake.number',
  'fake.text(0)',
  'fake.pick',
  'date(soon)',
  'port',
  'row.fare',
  'fake.constructor',
  'fake.__proto__',
])('%s makes nothing', (expression) => expect(made(expression)).toBeUndefined())
test('every generator that is offered works as named', () => {
  const given: Partial<Record<string, string>> = { 'fake.number': '(1,2)', 'fake.pick': '(a)' }
  for (const name of GENERATORS) expect(made(`${name}${given[name] ?? ''}`)).toBeDefined()
})
test('property: the same seed and place repeat, numbers stay between their ends', () => {
  fc.assert(
    fc.property(
      fc.integer(),
      fc.string(),
      fc.integer({ min: -50, max: 50 }),
      fc.nat(100),
      (seed, place, least, span) => {
        const expression = `fake.number(${least},${least + span})`
        const value = Number(made(expression, seed, place))
        expect(value).toBeGreaterThanOrEqual(least)
        expect(value).toBeLessThanOrEqual(least + span)
        expect(made(expression, seed, place)).toBe(String(value))
      },
    ),
  )
})
test('other places give other values', () =>
  expect(new Set(Array.from({ length: 20 }, (_, i) => made('fake.id', 1, `main.${i}`))).size).toBe(20))

test('values: secrets and generators stand beside names, and are named when missing', () => {
  const scope = {
    names: { port: 'Tolva' },
    row: {},
    env: {},
    run: {},
    secret: { desk: 'kelp' },
    generate: (expression: string) => generate(expression, 1, 'p', NOW),
  }
  expect(fill('${port} ${secret.desk} ${date}', scope)).toBe('Tolva kelp 2026-03-30')
  expect(() => fill('${secret.gone}', scope)).toThrow('${secret.gone} is not known here; known: desk')
  expect(() => fill('${fake.gone}', scope)).toThrow('${fake.gone} is not known here')
  expect(referencesIn([{ a: '${port} ${row.fare}' }, "${date(+1d, 'dd')} ${port}"])).toEqual([
    'port',
    'row.fare',
    "date(+1d, 'dd')",
  ])
})

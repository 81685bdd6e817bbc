import fc from 'fast-check'
import { ELEMENT_STATES, type Definition, type Matcher, type Step, type SuiteEntry, type Target } from '.'
import { writeDefinition } from './editing'
import { describeChanges, parseDefinition } from './files'

const text = fc.oneof(
  fc.constantFrom(
    'Pay now',
    'yes',
    'null',
    '12',
    '007',
    ': #',
    '- a',
    '"q"',
    "it's",
    '${row.fare}',
    ' two ',
    '£ 3.50',
    'a\nb',
  ),
  fc.string({ minLength: 1, maxLength: 30, unit: 'grapheme' }),
)
const key = fc.constantFrom('a', 'pay-by-card', '2nd')
const name = fc.constantFrom('reference', 'port')
const optional = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined })
/** Without what is `undefined`, as parsing leaves it out. */
const clean = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

const target: fc.Arbitrary<Target> = fc.oneof(
  fc.record({ role: fc.constantFrom('button', 'row'), name: text }),
  fc.record({ label: text }),
  fc.record({ testId: text, text }),
  fc.record({ css: text, picture: text }),
  fc.record({ placeholder: text, words: text }),
  fc.record({ text, match: fc.constantFrom('part', 'pattern'), number: fc.constantFrom(-1, 2) }),
  fc.record({ label: text, within: fc.record({ testId: text, under: fc.record({ css: text }) }) }),
)
const matcher: fc.Arbitrary<Matcher> = fc.oneof(
  fc.record({ equals: text }),
  fc.record({ contains: text, not: text }),
  fc.record({ between: fc.tuple(fc.integer(), text) }),
  fc.record({ near: fc.record({ value: fc.integer(), within: text }) }),
  fc.record({ empty: fc.boolean() }),
  fc.record({ oneOf: fc.array(text, { minLength: 1, maxLength: 3 }) }),
  fc.record({ matches: fc.constantFrom('^a.b$', '\\d+') }),
)
const fields = {
  id: optional(key),
  off: fc.constantFrom(undefined, true as const),
  tag: optional(text),
  limitMs: optional(fc.constantFrom(0, 250, 2000, 120_000)),
  capture: optional(fc.constantFrom('always' as const, 'never' as const)),
  because: optional(text),
}
const texts = fc.dictionary(name, text, { maxKeys: 2 })
const jsonPath = fc.constantFrom('$.a', '$[0]["total due"]', "$.list[*]['é']")

const condition = fc.oneof(
  fc.record({ visible: target }),
  fc.record({ hidden: target }),
  fc.record({ value: text, is: matcher }),
)

const step = fc.letrec<{ step: Step }>((tie) => {
  const steps = fc.array(tie('step'), { minLength: 1, maxLength: 3 })
  const address = fc.constantFrom('booking:/', 'gate:/board?x=${ref}')
  const one = (shape: Record<string, fc.Arbitrary<unknown>>) =>
    fc.record({ ...fields, ...shape }) as unknown as fc.Arbitrary<Step>
  const is = <V extends string>(verb: V) => fc.constant(verb)
  return {
    step: fc.oneof(
      { maxDepth: 3 },
      one({ verb: is('open'), address }),
      one({ verb: is('go'), to: fc.constantFrom('back', 'forward', 'reload') }),
      one({
        verb: is('click'),
        on: target,
        times: optional(fc.integer({ min: 1, max: 10 })),
        button: optional(fc.constantFrom('left', 'middle', 'right')),
        with: optional(fc.constantFrom(['Shift'], ['Alt', 'Meta'])),
        holdMs: optional(fc.constantFrom(250, 2000)),
      }),
      one({ verb: is('window'), to: fc.constantFrom('newest', 'first', 'close') }),
      one({ verb: is('window'), to: fc.constantFrom('titled', 'at'), text }),
      one({ verb: is('type'), in: target, value: text }),
      one({
        verb: is('choose'),
        in: target,
        value: text,
        also: optional(fc.array(text, { minLength: 1, maxLength: 2 })),
      }),
      one({ verb: is('press'), key: text, on: optional(target) }),
      one({ verb: is('hover'), on: target }),
      one({ verb: is('drag'), from: target, to: target }),
      one({ verb: is('upload'), in: target, name: text, text, encoding: optional(is('base64')) }),
      one({ verb: is('scroll'), by: fc.integer({ min: -900, max: 900 }) }),
      one({ verb: is('scroll'), to: target }),
      one({ verb: is('scroll'), until: target, in: optional(target) }),
      one({ verb: is('wait'), for: target, state: fc.constantFrom(...ELEMENT_STATES) }),
      one({ verb: is('wait'), state: fc.constant('visible'), timeMs: fc.constantFrom(100, 3000) }),
      one({
        verb: is('read'),
        of: target,
        as: name,
        pick: optional(fc.constantFrom('FS-(\\d+)')),
        handoff: fc.boolean(),
      }),
      one({
        verb: is('check'),
        of: target,
        subject: fc.constantFrom('text', 'value', 'count'),
        matcher,
        soft: fc.boolean(),
      }),
      one({
        verb: is('check'),
        subject: fc.constantFrom('url', 'title', 'download', 'dialog'),
        matcher,
        soft: fc.boolean(),
      }),
      one({
        verb: is('check'),
        of: target,
        subject: is('state'),
        state: fc.constantFrom(...ELEMENT_STATES),
        soft: fc.boolean(),
      }),
      one({
        verb: is('check'),
        of: target,
        subject: is('attribute'),
        attribute: text,
        matcher,
        soft: fc.boolean(),
      }),
      one({
        verb: is('check'),
        of: target,
        subject: is('screen'),
        screen: text,
        ignore: fc.array(target, { minLength: 1, maxLength: 2 }),
        soft: fc.boolean(),
      }),
      one({
        verb: is('call'),
        method: fc.constantFrom('GET', 'POST'),
        url: address,
        headers: texts.filter((given) => Object.keys(given).length > 0),
        body: fc.oneof(fc.constant(undefined), fc.record({ a: text, n: fc.integer() })),
        expect: fc.record({
          status: fc.constantFrom(200, 404),
          json: fc.dictionary(jsonPath, matcher, { minKeys: 1 }),
        }),
        read: fc.dictionary(name, jsonPath),
        handoff: fc.boolean(),
      }),
      one({
        verb: is('query'),
        database: key,
        sql: text.map((words) => `select '${words.replaceAll("'", "''")}'`),
        values: fc.array(text, { maxLength: 3 }),
        expect: fc.record({ rows: fc.nat(5), value: matcher }),
        read: texts,
      }),
      one({ verb: is('use'), routine: key, with: texts }),
      one({ verb: is('block'), title: text, steps }),
      one({
        verb: is('if'),
        condition,
        steps,
        otherwise: fc.array(tie('step'), { maxLength: 2 }),
      }),
      one({ verb: is('repeat'), times: fc.integer({ min: 1, max: 9 }), steps }),
      one({ verb: is('repeat'), whileVisible: target, steps }),
      one({ verb: is('repeat'), until: condition, waitMs: optional(fc.constant(3000)), steps }),
      one({ verb: is('meet'), point: key }),
      one({ verb: is('dialog'), answer: fc.constantFrom('accept', 'dismiss'), text: optional(text) }),
      one({ verb: is('note'), text }),
      one({ verb: is('do'), words: text, expected: optional(text) }),
    ),
  }
}).step
const stepList = fc.array(step, { minLength: 1, maxLength: 4 })

const testCase = fc.record({
  kind: fc.constant('case' as const),
  key,
  title: text,
  tags: fc.uniqueArray(text, { maxLength: 3 }),
  priority: fc.constantFrom('low' as const, 'normal' as const, 'critical' as const),
  requires: fc.uniqueArray(text, { maxLength: 2 }),
  entry: optional(key),
  parameters: texts,
  data: fc.constantFrom(undefined, 'fares.csv', 'fares.json'),
  uses: fc.uniqueArray(text, { maxLength: 2 }),
  needs: fc.uniqueArray(name, { maxLength: 2 }),
  limitMs: optional(fc.constant(90_000)),
  steps: stepList,
  undo: fc.array(step, { maxLength: 2 }),
})
const joint = fc.record({ steps: stepList, environment: texts }).map(({ steps, environment }) => ({
  kind: 'case' as const,
  key: 'joint',
  title: 'Joint',
  tags: [],
  priority: 'normal' as const,
  requires: [],
  parameters: {},
  uses: [],
  needs: [],
  steps: [],
  undo: [],
  roles: { passenger: { environment, steps }, crew: { environment: {}, steps } },
}))
const routine = fc.record({
  kind: fc.constant('routine' as const),
  key,
  title: text,
  parameters: texts,
  steps: stepList,
  undo: fc.array(step, { maxLength: 2 }),
})
const entry = fc.letrec<{ entry: SuiteEntry }>((tie) => {
  const settings = {
    name: optional(text),
    off: fc.boolean(),
    repeat: fc.integer({ min: 1, max: 3 }),
    limitMs: optional(fc.constant(5000)),
    with: texts,
    after: fc.uniqueArray(text, { maxLength: 2 }),
    onFailure: optional(fc.constantFrom('go-on' as const, 'skip-children' as const, 'stop' as const)),
  }
  const entries = fc.array(tie('entry'), { maxLength: 3 })
  const none = fc.constant([] as SuiteEntry[])
  return {
    entry: fc.oneof(
      { maxDepth: 3 },
      fc.record({ ...settings, case: key, entries: none }),
      fc.record({ ...settings, case: key, data: optional(fc.constant('other.csv')), entries }),
      fc.record({ ...settings, suite: key, entries: none }),
      fc.record({ ...settings, group: text, entries }),
    ) as fc.Arbitrary<SuiteEntry>,
  }
}).entry
const suite = fc.oneof(
  fc.record({
    kind: fc.constant('suite' as const),
    key,
    title: text,
    entries: fc.array(entry, { maxLength: 4 }),
  }),
  fc.record({
    kind: fc.constant('suite' as const),
    key,
    title: text,
    rule: fc.constantFrom('smoke and not slow', 'priority >= high'),
    entries: fc.constant([]),
  }),
)
const columns = fc.uniqueArray(fc.constantFrom('a', 'b c', 'fare'), { minLength: 1 })
const table = fc.tuple(fc.constantFrom('t.csv', 't.json'), columns).chain(([file, names]) =>
  fc
    .array(
      fc.tuple(...names.map(() => fc.constantFrom('', 'x', '1,5', 'say "so"', 'two\nlines', ' edge '))),
      { minLength: 1, maxLength: 4 },
    )
    .map((rows) => ({
      kind: 'data' as const,
      key: file,
      title: file,
      columns: names,
      rows: rows.map((cells) => Object.fromEntries(names.map((column, i) => [column, cells[i]!]))),
    })),
)

const withoutLines = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value, (field, inner: unknown) => (field === 'line' ? undefined : inner)))

test.each<[string, fc.Arbitrary<Definition>]>([
  ['case', fc.oneof(testCase, joint) as fc.Arbitrary<Definition>],
  ['routine', routine],
  ['suite', suite as fc.Arbitrary<Definition>],
  ['data', table],
])('property: a %s survives writing and reading', (kind, any) => {
  fc.assert(
    fc.property(any, (definition) => {
      const source = writeDefinition(clean(definition))
      const { definition: again, problems } = parseDefinition(
        kind === 'data' ? definition.key : `x.${kind}.yaml`,
        source,
      )
      expect(problems).toEqual([])
      expect(withoutLines(again)).toEqual(clean(definition))
      expect(describeChanges(definition, again!)).toEqual([])
    }),
    { numRuns: 200 },
  )
})

describe('what changed, in sentences', () => {
  const read = (source: string, file = 'x.case.yaml') => parseDefinition(file, source).definition!
  const base = 'case: a\ntitle: A\nsteps:\n  - click: { on: { text: Find } }\n  - press: { key: Tab }\n'
  test.each([
    ['the title', base.replace('title: A', 'title: B'), ['title: A became B']],
    ['a tag', `${base}tags: [smoke]\n`, ['tags is now smoke']],
    ['a step', base.replace('Find', 'Search'), ['step 1: click “Find” became click “Search”']],
    ['a step more', `${base}  - press: { key: Enter }\n`, ['step 3 is new: press Enter']],
    ['a step less', base.replace(/ {2}- press.*\n/, ''), ['step taken away: press Tab']],
    [
      'a switch',
      base.replace('key: Tab }', 'key: Tab }\n    off: true'),
      ['step 2: press Tab became press Tab (switched off)'],
    ],
    ['only a comment', `# new\n${base}`, []],
    [
      'one that is new before one that changed',
      base.replace(
        '  - click: { on: { text: Find } }',
        '  - open: gate:/\n  - click: { on: { text: Search } }',
      ),
      ['step 1 is new: open gate /', 'step 2: click “Find” became click “Search”'],
    ],
    [
      'one that went before one that changed',
      base.replace('  - click: { on: { text: Find } }\n  - press: { key: Tab }', '  - press: { key: Enter }'),
      ['step taken away: click “Find”', 'step 1: press Tab became press Enter'],
    ],
  ])('%s', (_, after, sentences) => expect(describeChanges(read(base), read(after))).toEqual(sentences))
  test('of a table', () =>
    expect(describeChanges(read('a,b\n1,2\n3,4\n', 't.csv'), read('a,c\n1,x\n5,y\n', 't.csv'))).toEqual([
      'column “c” is new',
      'column “b” was taken away',
      'row 2: 3 became 5',
    ]))
  test('of a suite', () =>
    expect(
      describeChanges(
        read('suite: s\ntitle: S\nentries: [{ case: a }]\n', 's.suite.yaml'),
        read(
          'suite: s\ntitle: S\nentries: [{ case: a, repeat: 2 }, { group: G, off: true }]\n',
          's.suite.yaml',
        ),
      ),
    ).toEqual(['entry 1: a became a (2 times)', 'entry 2 is new: G (switched off)']))
})

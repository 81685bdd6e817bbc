import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import fc from 'fast-check'
import { comparePaths, type NumberedEvent, type Work } from '@/core/execution'
import type { Routine, Step, StepOf, TestCase } from '@/core/model'
import { DriverFault, virtualPace, type BrowserDriver, type Look } from '../driver/port'
import { runAttempt } from '.'

const seen = (text: string, extra: Partial<Look> = {}): Look => ({ count: 1, text, value: '', states: ['visible', 'enabled'], found: { way: 'testId' }, ...extra })
const NOTHING: Look = { count: 0, text: '', value: '', states: ['hidden'] }

/** A driver of words: what is on the page is a table, and what was done is a list. */
function scripted(page: Record<string, Look | Error>, done: string[] = []): BrowserDriver {
  const act = async (what: string, name: string) => {
    done.push(`${what} ${name}`)
    const there = page[name]
    if (there instanceof Error) throw there
    if (!there) throw new DriverFault('target', `${name} is not on the page`)
    return { way: 'testId' }
  }
  const name = (target: { testId?: string; text?: string } | undefined) => target?.testId ?? target?.text ?? ''
  return {
    facts: { browser: 'scripted' },
    open: async (url) => void done.push(`open ${url}`),
    click: (target) => act('click', name(target)), choose: (target, option) => act(`choose ${option} in`, name(target)),
    type: async (target, text) => ({ ...(await act(`type ${text} in`, name(target))), masked: false }),
    press: async (key) => { done.push(`press ${key}`); return undefined },
    hover: (target) => act('hover', name(target)), drag: (from, to) => act(`drag ${name(from)} to`, name(to)), upload: (target, file) => act(`upload ${file.name} into`, name(target)),
    scroll: async (where) => { done.push('to' in where ? `scroll to ${name(where.to)}` : `scroll by ${where.by}`); return undefined },
    answerDialog: async (accept, text) => void done.push(`dialog ${accept} ${text}`), title: async () => 'Done', downloads: async () => ['card.txt'],
    attribute: async (target, attribute) => { const there = page[name(target)]; return there && !(there instanceof Error) ? `${attribute} of ${name(target)}` : undefined },
    look: async (target) => { const there = page[name(target)]; return there && !(there instanceof Error) ? there : NOTHING },
    url: async () => 'http://app/done', screen: async () => undefined, source: async () => '<html>', openDialog: async () => undefined,
    takeLog: () => [], stopVideo: async () => undefined, close: async () => void done.push('close'),
  }
}

let server: Server
let api: string
beforeAll(async () => {
  server = createServer((request, response) => {
    if (request.url === '/slow') return
    response.writeHead(request.url === '/missing' ? 404 : 200, { 'content-type': 'application/json' }).end(JSON.stringify({ method: request.method, list: [{ ref: 'FS-1' }, { ref: 'FS-2' }] }))
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  api = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})

async function attempt(steps: Step[], page: Record<string, Look | Error> = {}, more: { testCase?: Partial<TestCase>; work?: Partial<Work>; signal?: AbortSignal } = {}) {
  const done: string[] = []
  const events: NumberedEvent[] = []
  const work: Work = {
    attemptId: 'a', lease: 1, number: 1, runId: 1, build: '1.0', routines: [], parameters: {}, applications: { app: 'http://app', api }, limitMs: 60_000, seed: 1, databases: {}, secrets: {}, handoffs: {}, startedAt: '2026-03-30T10:00:00.000Z',
    environment: { key: 'e', title: 'E', browser: 'B', os: 'O', width: 1, height: 1, locale: 'en', simulated: true },
    case: { kind: 'case', key: 'c', title: 'C', tags: [], priority: 'normal', requires: [], parameters: {}, uses: [], needs: [], steps, undo: [], ...more.testCase }, ...more.work,
  }
  const result = await runAttempt(work, { driver: scripted(page, done), pace: virtualPace(), sink: { event: (event) => void events.push(event), evidence: () => {} }, agent: 'one', signal: more.signal ?? new AbortController().signal })
  const ended = events.flatMap((event) => (event.type === 'step-ended' ? [`${event.path} ${event.outcome}${event.note ? `: ${event.note}` : ''}`] : []))
  return { result, done, events, ended }
}

const click = (text: string): Step => ({ verb: 'click', on: { text } })
const check = (testId: string, equals: string, soft = false): Step => ({ verb: 'check', of: { testId }, subject: 'text', matcher: { equals }, soft })

test('carries out steps in order, numbers its events without a gap, and closes the browser', async () => {
  const { result, done, events } = await attempt([{ verb: 'open', address: 'app:/start' }, click('Go'), check('total', '5')], { Go: seen(''), total: seen(' 5 ') })
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['open http://app/start', 'click Go', 'close'])
  expect(events.map(({ no }) => no)).toEqual(events.map((_, i) => i + 1))
})

test('a check that does not hold fails with expected and actual, after its limit', async () => {
  const { result } = await attempt([check('total', '5'), click('Never')], { total: seen('6') })
  expect(result).toMatchObject({ outcome: 'failed', failure: { kind: 'check', expected: '5', actual: '6', path: 'main.0' } })
  expect(result.ms).toBeGreaterThanOrEqual(5000)
})
test('a soft check is told at the end, and the case goes on', async () => {
  const { result, done } = await attempt([check('total', '5', true), click('Go')], { total: seen('6'), Go: seen('') })
  expect(result).toMatchObject({ outcome: 'failed', failure: { path: 'main.0' } })
  expect(done).toContain('click Go')
})
test.each<[string, Step, Record<string, Look>, object]>([
  ['not there', check('total', '5'), {}, { kind: 'target', message: 'it is not on the page' }],
  ['there twice', check('total', '5'), { total: seen('', { count: 2 }) }, { kind: 'target', message: '2 elements match, one was expected' }],
  ['a missing value', click('${gone}'), {}, { kind: 'data', message: '${gone} is not known here' }],
  ['a missing routine', { verb: 'use', routine: 'gone', with: {} }, {}, { kind: 'data', message: 'the routine “gone” is not there' }],
  ['a missing application', { verb: 'open', address: 'gone:/' }, {}, { kind: 'data', message: 'there is no application “gone”' }],
  ['a wait in vain', { verb: 'wait', for: { text: 'Ready' }, state: 'visible' }, {}, { kind: 'target', message: 'waited 5.0 s, it is not visible' }],
  ['an address', { verb: 'check', subject: 'url', matcher: { contains: '/start' }, soft: false }, {}, { kind: 'check', actual: 'http://app/done' }],
])('errors with its kind and place: %s', async (_, step, page, failure) => {
  const { result } = await attempt([step], page)
  expect(result).toMatchObject({ failure: { path: 'main.0', ...failure } })
})

test('blocks, ifs and repeats nest, and the innermost step is the failing one', async () => {
  const { result, ended } = await attempt([
    { verb: 'if', visible: true, target: { text: 'Shown' }, steps: [click('Shown')], otherwise: [click('Not')] },
    { verb: 'if', visible: false, target: { text: 'Shown' }, steps: [click('Not')], otherwise: [] },
    { verb: 'repeat', times: 2, steps: [click('Shown')] },
    { verb: 'block', title: 'B', steps: [click('Gone')] },
  ], { Shown: seen('') })
  expect(ended).toEqual(['main.0.0 passed', 'main.0 passed: it is so', 'main.1 passed: it is not so', 'main.2.0.0 passed', 'main.2.1.0 passed', 'main.2 passed: 2 times', 'main.3.0 errored', 'main.3 errored'])
  expect(result.failure).toMatchObject({ path: 'main.3.0', kind: 'target' })
})
test('a loop that never ends is ended', async () => expect((await attempt([{ verb: 'repeat', whileVisible: { text: 'X' }, steps: [click('X')] }], { X: seen('') })).result.failure).toMatchObject({ kind: 'time-limit', message: 'still so after 200 times' }))
test('a routine that uses itself is ended', async () => {
  const { result } = await attempt([{ verb: 'use', routine: 'loop', with: {} }], {}, { work: { routines: [{ kind: 'routine', key: 'loop', title: '', parameters: {}, undo: [], steps: [{ verb: 'use', routine: 'loop', with: {} }] }] } })
  expect(result.failure).toMatchObject({ kind: 'data', message: expect.stringContaining('nested deeper') as string })
})
test('a routine sees its parameters, gives back what it read, and keeps its own names to itself', async () => {
  const routine = { kind: 'routine' as const, key: 'r', title: '', parameters: { port: 'Skerrow', time: '09:40' }, undo: [], steps: [click('${port} ${time}'), { verb: 'read' as const, of: { testId: 'ref' }, as: 'reference', handoff: false }] }
  const { result, done } = await attempt([{ verb: 'use', routine: 'r', with: { port: '${row.port}' } }, click('${reference} ${port}')], { 'Tolva 09:40': seen(''), ref: seen(' FS-7 '), 'FS-7 outer': seen('') }, { work: { routines: [routine], row: { port: 'Tolva' }, parameters: { port: 'outer' } } })
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['click Tolva 09:40', 'click FS-7 outer', 'close'])
})

test('undo runs in reverse, whatever happened, and what was never read needs no undo', async () => {
  const undo = [click('First'), click('${reference}'), click('Broken'), click('Last')]
  const { result, done, ended } = await attempt([click('Gone')], { First: seen(''), Last: seen('') }, { testCase: { undo } })
  expect(result).toMatchObject({ outcome: 'errored', failure: { path: 'main.0' } })
  expect(done).toEqual(['click Gone', 'click Last', 'click Broken', 'click First', 'close'])
  expect(ended).toContain('undo.1 skipped: nothing to undo: ${reference} was never read')
})
test('the undo stack: routines push theirs, and it runs from the top, the entry state last', async () => {
  const routine = (key: string, undo: Step[], steps: Step[] = []): Routine => ({ kind: 'routine', key, title: key, parameters: { who: '' }, steps, undo })
  const routines = [routine('in', [click('Sign out')]), routine('book', [click('Unbook ${ref}'), click('Bye ${who}')], [{ verb: 'read', of: { testId: 'ref' }, as: 'ref', handoff: false }]), routine('half', [click('Half')], [click('Gone')])]
  const use = (key: string, who = ''): Step => ({ verb: 'use', routine: key, with: { who } })
  const { done, events } = await attempt([use('book', 'Isla'), use('half')], { ref: seen('FS-1') }, { testCase: { entry: 'in', undo: [click('Own 1'), click('Own 2')] }, work: { routines } })
  expect(done).toEqual(['click Gone', 'click Half', 'click Bye Isla', 'click Unbook FS-1', 'click Own 2', 'click Own 1', 'click Sign out', 'close'])
  const paths = events.flatMap((event) => (event.type === 'step-started' && event.path.startsWith('undo') ? [event.path] : []))
  expect(paths).toEqual([...paths].sort(comparePaths))
})
test('property: whatever fails, each undo step that was pushed runs once, in reverse', async () => {
  const part = fc.record({ fails: fc.boolean(), undo: fc.nat(3) })
  await fc.assert(fc.asyncProperty(fc.array(part, { maxLength: 5 }), fc.nat(3), async (given, own) => {
    const name = (i: number) => Array.from({ length: given[i]!.undo }, (_, j) => `u${i}.${j}`)
    const routines = given.map(({ fails }, i): Routine => ({ kind: 'routine', key: `r${i}`, title: '', parameters: {}, steps: [click(fails ? 'Gone' : 'Go')], undo: name(i).map(click) }))
    const ownNames = Array.from({ length: own }, (_, j) => `own.${j}`)
    const { done } = await attempt(given.map((_, i) => ({ verb: 'use', routine: `r${i}`, with: {} })), { Go: seen('') }, { testCase: { undo: ownNames.map(click) }, work: { routines } })
    const reached = given.findIndex(({ fails }) => fails)
    const pushed = [...ownNames, ...given.slice(0, reached < 0 ? undefined : reached + 1).flatMap((_, i) => name(i))]
    expect(done.filter((what) => /click (u|own)/.test(what))).toEqual(pushed.reverse().map((what) => `click ${what}`))
  }), { numRuns: 60 })
})
test('an entry state that is not reached is a matter of data, with the reason', async () => {
  const routines = [{ kind: 'routine' as const, key: 'signed-out', title: '', parameters: {}, undo: [], steps: [click('Sign out')] }]
  const { result, done } = await attempt([click('Go')], { Go: seen('') }, { testCase: { entry: 'signed-out' }, work: { routines } })
  expect(result.failure).toMatchObject({ kind: 'data', path: 'entry.0.0', message: 'The entry state “signed-out” was not reached: Sign out is not on the page' })
  expect(done).not.toContain('click Go')
})
test('the limit of the case ends it, undo still runs', async () => {
  const { result, done } = await attempt([{ verb: 'wait', state: 'visible', timeMs: 90_000 }, click('Go')], { Go: seen(''), Tidy: seen('') }, { testCase: { undo: [click('Tidy')] } })
  expect(result.failure).toMatchObject({ kind: 'time-limit', message: 'The case took longer than 1 min' })
  expect(done).toEqual(['click Tidy', 'close'])
})
test('stopped: nothing more is done but undo, and the outcome is cancelled', async () => {
  const stop = new AbortController()
  stop.abort()
  const { result, done } = await attempt([click('Go')], { Go: seen(''), Tidy: seen('') }, { testCase: { undo: [click('Tidy')] }, signal: stop.signal })
  expect(result.outcome).toBe('cancelled')
  expect(done).toEqual(['click Tidy', 'close'])
})
test('a step that is switched off is passed over', async () => expect((await attempt([{ ...click('Gone'), off: true }])).ended).toEqual(['main.0 skipped: switched off']))
test('when another way of a target held, the log says so and what to mend', async () => {
  expect((await attempt([{ verb: 'click', on: { text: 'Go', testId: 'Go' } }], { Go: seen('') })).ended).toEqual(['main.0 passed'])
  expect((await attempt([check('x', '5', false), { verb: 'read', of: { testId: 'old', text: 'x' }, as: 'a', handoff: false }], { x: seen('5'), old: seen('5', { found: { way: 'text' } }) })).ended[1]).toBe('main.1 passed: found by text; testId finds it no more: mend “testId: old” or take it out')
})
test('every verb reaches the browser', async () => {
  const { result, done } = await attempt([
    { verb: 'hover', on: { text: 'Menu' } }, { verb: 'drag', from: { text: 'Card' }, to: { text: 'Lane' } }, { verb: 'upload', in: { text: 'File' }, name: 'list.csv', text: 'a' }, { verb: 'scroll', by: 400 }, { verb: 'scroll', to: { text: 'Foot' } },
    { verb: 'dialog', answer: 'accept', text: 'yes' }, { verb: 'note', text: 'only said' },
    { verb: 'check', subject: 'title', matcher: { equals: 'Done' }, soft: false }, { verb: 'check', subject: 'download', matcher: { startsWith: 'card' }, soft: false }, { verb: 'check', of: { text: 'Menu' }, subject: 'attribute', attribute: 'href', matcher: { equals: 'href of Menu' }, soft: false },
  ], { Menu: seen(''), Lane: seen(''), File: seen('') })
  expect(result).toMatchObject({ outcome: 'passed' })
  expect(done).toEqual(['hover Menu', 'drag Card to Lane', 'upload list.csv into File', 'scroll by 400', 'scroll to Foot', 'dialog true yes', 'close'])
})
test.each<[string, Step, string]>([
  ['meet', { verb: 'meet', point: 'boarding-open' }, 'for joint cases'],
  ['do', { verb: 'do', words: 'Look at the deck' }, 'is for a person'],
  ['a screen', { verb: 'check', of: { text: 'Deck' }, subject: 'screen', screen: 'deck-plan', soft: false }, 'compares a picture'],
  ['a picture', { verb: 'click', on: { picture: 'anchor.png' } }, '“picture: anchor.png” is looked for on the screen'],
])('what later versions bring is said, not passed over: %s', async (_, step, says) => expect((await attempt([step], { Deck: seen('') })).result.failure).toMatchObject({ kind: 'script', message: expect.stringContaining(says) as string }))
test('what is typed into a secret field is in no event', async () => {
  const { events } = await attempt([{ verb: 'type', in: { text: 'x', label: 'Password' }, value: '${word}' }], { x: seen('') }, { work: { parameters: { word: 'low-tide' } } })
  expect(JSON.stringify(events)).not.toContain('low-tide')
})

describe('values', () => {
  test('made-up values stay the same in one place, and are in the log', async () => {
    const steps: Step[] = [{ verb: 'type', in: { text: 'x' }, value: '${fake.name}' }, { verb: 'type', in: { text: 'x' }, value: "${date(+1d, 'dd/MM/yyyy')}" }, click('${who}')]
    const first = await attempt(steps, { x: seen('') }, { work: { parameters: { who: '${fake.id}' } } })
    expect(first.done[1]).toBe('type 31/03/2026 in x')
    expect((await attempt(steps, { x: seen('') }, { work: { parameters: { who: '${fake.id}' } } })).done).toEqual(first.done)
    expect((await attempt(steps, { x: seen('') }, { work: { seed: 2, parameters: { who: '${fake.id}' } } })).done).not.toEqual(first.done)
    const typed = /type (.*) in x/.exec(first.done[0]!)![1]
    expect(first.events).toContainEqual(expect.objectContaining({ type: 'step-started', path: 'main.0', values: { 'fake.name': typed } }))
  })
  test('a secret is used, and appears nowhere', async () => {
    const secret = 'low tide/7'
    const { result, done, events } = await attempt(
      [{ verb: 'type', in: { text: 'x' }, value: '${secret.desk}' }, { verb: 'call', method: 'GET', url: 'api:/x?k=low%20tide%2F7', read: {}, handoff: false, expect: { status: 418 } }],
      { x: seen('') }, { work: { secrets: { desk: secret }, parameters: { word: 'a ${secret.desk}' } } })
    expect(done[0]).toBe('type low tide/7 in x')
    expect(result.failure).toMatchObject({ kind: 'check' })
    for (const form of [secret, encodeURIComponent(secret)]) expect(JSON.stringify([events, result])).not.toContain(form)
    expect(JSON.stringify(events)).toContain('••••')
  })
  test('handoffs come in as names and go out with the result, also when the case fails after', async () => {
    const { result, done } = await attempt([click('${reference}'), { verb: 'read', of: { testId: 'ref' }, as: 'ticket', handoff: true }, click('Gone')], { 'FS-1': seen(''), ref: seen('T-9') }, { work: { handoffs: { reference: 'FS-1' } } })
    expect(done[0]).toBe('click FS-1')
    expect(result).toMatchObject({ outcome: 'errored', handoffs: { ticket: 'T-9' } })
  })
  test('a parameter that refers to nothing is a matter of data', async () => expect((await attempt([], {}, { work: { parameters: { a: '${row.gone}' } } })).result.failure).toMatchObject({ kind: 'data', message: expect.stringContaining('row.gone') as string }))
  test('why a step is there stands in the log', async () => expect((await attempt([{ ...click('Go'), because: 'the morning sailing has seats' }], { Go: seen('') })).events).toContainEqual(expect.objectContaining({ type: 'step-started', because: 'the morning sailing has seats' })))
  test('a limit of a block is one for all its steps', async () => {
    const wait: Step = { verb: 'wait', state: 'visible', timeMs: 3000 }
    expect((await attempt([{ verb: 'block', title: 'B', limitMs: 4000, steps: [wait, wait, wait] }])).result).toMatchObject({ failure: { kind: 'time-limit', path: 'main.0.2' } })
  })
})

describe('queries', () => {
  const url = process.env.OAK_TEST_DATABASE_URL!
  const query = (sql: string, extra: Partial<StepOf<'query'>> = {}): Step => ({ verb: 'query', database: 'manifest', sql, values: [], read: {}, ...extra })
  test.each<[string, Step, object | undefined]>([
    ['a value', query('select $1::text as state', { values: ['${who}'], expect: { rows: 1, value: { equals: 'Isla' } } }), undefined],
    ['columns', query("select 1 as n, 'booked' as state", { expect: { columns: { state: { equals: 'booked' } } } }), undefined],
    ['another number of rows', query('select generate_series(1, 3)', { expect: { rows: { atMost: 2 } } }), { kind: 'check', actual: '3' }],
    ['another value', query("select 'boarded'", { expect: { value: { equals: 'booked' } } }), { kind: 'check', expected: 'booked', actual: 'boarded' }],
    ['no rows', query('select 1 where false', { expect: { value: { equals: '1' } } }), { kind: 'check', actual: 'no rows' }],
    ['writing', query('create table oak_no (a int)'), { kind: 'data', message: 'the statement would write; a query only reads' }],
    ['a second statement', query('commit; create table oak_no (a int)'), { kind: 'data', message: expect.stringContaining('refused') as string }],
    ['a mistake', query('select nothing from nowhere'), { kind: 'data', message: expect.stringContaining('nowhere') as string }],
    ['a value that is no SQL', query('select $1::text', { values: ["'; drop table x; --"], expect: { value: { equals: "'; drop table x; --" } } }), undefined],
    ['too slow', query('select pg_sleep(5)', { limitMs: 150 }), { kind: 'time-limit' }],
    ['a database that is not there', { ...query('select 1'), database: 'gone' } as Step, { kind: 'data', message: 'there is no database “gone”' }],
  ])('%s', async (_, step, failure) => {
    const { result } = await attempt([step], {}, { work: { databases: { manifest: url }, parameters: { who: 'Isla' } } })
    if (failure) expect(result.failure).toMatchObject(failure)
    else expect(result).toMatchObject({ outcome: 'passed' })
  })
  test('reads columns for later steps; a place that answers nothing is a fault of the page', async () => {
    expect((await attempt([query("select 'FS-2' as ref", { read: { ref: 'ref' } }), click('${ref}')], { 'FS-2': seen('') }, { work: { databases: { manifest: url } } })).done).toContain('click FS-2')
    expect((await attempt([query('select 1')], {}, { work: { databases: { manifest: 'postgres://x:y@127.0.0.1:1/z' } } })).result.failure).toMatchObject({ kind: 'page' })
  })
})

describe('calls', () => {
  const call = (extra: object): Step => ({ verb: 'call', method: 'GET', url: 'api:/x', read: {}, handoff: false, ...extra })
  test.each<[string, Step, object | undefined]>([
    ['any of the list may hold', call({ expect: { status: 200, json: { '$.list[*].ref': { equals: 'FS-2' } } } }), undefined],
    ['none holds', call({ expect: { json: { '$.list[*].ref': { equals: 'FS-9' } } } }), { kind: 'check', expected: 'FS-9', actual: 'FS-1, FS-2' }],
    ['nothing at the path', call({ expect: { json: { '$.gone': { equals: '1' } } } }), { kind: 'check', actual: 'nothing there' }],
    ['another status', call({ url: 'api:/missing', expect: { status: 200 } }), { kind: 'check', expected: '200', actual: '404' }],
    ['success is expected unless said otherwise', call({ url: 'api:/missing' }), { kind: 'check', expected: 'below 400' }],
    ['no answer in time', call({ url: 'api:/slow', limitMs: 120 }), { kind: 'time-limit' }],
    ['a path that is none', call({ expect: { json: { 'list[': { equals: '1' } } } }), { kind: 'data' }],
  ])('%s', async (_, step, failure) => {
    const { result } = await attempt([step])
    if (failure) expect(result.failure).toMatchObject(failure)
    else expect(result.outcome).toBe('passed')
  })
  test('reads values for later steps', async () => expect((await attempt([call({ read: { ref: '$.list[1].ref' } }), click('${ref}')], { 'FS-2': seen('') })).done).toContain('click FS-2'))
})

import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { NumberedEvent, Work } from '@/core/execution'
import type { Step, TestCase } from '@/core/model'
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
    attemptId: 'a', lease: 1, number: 1, runId: 1, build: '1.0', routines: [], parameters: {}, applications: { app: 'http://app', api }, limitMs: 60_000, seed: 1,
    environment: { key: 'e', title: 'E', browser: 'B', os: 'O', width: 1, height: 1, locale: 'en', simulated: true },
    case: { kind: 'case', key: 'c', title: 'C', tags: [], priority: 'normal', requires: [], parameters: {}, uses: [], steps, undo: [], ...more.testCase }, ...more.work,
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
  const { result } = await attempt([{ verb: 'use', routine: 'loop', with: {} }], {}, { work: { routines: [{ kind: 'routine', key: 'loop', title: '', parameters: {}, steps: [{ verb: 'use', routine: 'loop', with: {} }] }] } })
  expect(result.failure).toMatchObject({ kind: 'data', message: expect.stringContaining('nested deeper') as string })
})
test('a routine sees its parameters, gives back what it read, and keeps its own names to itself', async () => {
  const routine = { kind: 'routine' as const, key: 'r', title: '', parameters: { port: 'Skerrow', time: '09:40' }, steps: [click('${port} ${time}'), { verb: 'read' as const, of: { testId: 'ref' }, as: 'reference', handoff: false }] }
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
test('an entry state that is not reached is a matter of data, with the reason', async () => {
  const routines = [{ kind: 'routine' as const, key: 'signed-out', title: '', parameters: {}, steps: [click('Sign out')] }]
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
test('when another way of a target held, the log says so', async () => expect((await attempt([{ verb: 'click', on: { text: 'Go', testId: 'Go' } }], { Go: seen('') })).ended).toEqual(['main.0 passed']))
test('what is typed into a secret field is in no event', async () => {
  const { events } = await attempt([{ verb: 'type', in: { text: 'x', label: 'Password' }, value: '${word}' }], { x: seen('') }, { work: { parameters: { word: 'low-tide' } } })
  expect(JSON.stringify(events)).not.toContain('low-tide')
})

describe('calls', () => {
  const call = (extra: object): Step => ({ verb: 'call', method: 'GET', url: 'api:/x', read: {}, ...extra })
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

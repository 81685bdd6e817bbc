import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { defectById } from '@/db/defects'
import { testContext, type TestContext } from '../testing/context'
import { addedDefect } from './testing/defect'
import { nowViewModel } from '../view-models'
import { enqueueTrackerReads, readTrackerStates, setTracker } from '.'

let ctx: TestContext
let tracker: Server
/** What is answered of each number. */
const answers = new Map<string, { status: number; text: string }>()
const asked: string[] = []

beforeAll(async () => {
  ctx = await testContext()
  tracker = createServer((request, response) => {
    const number = decodeURIComponent(request.url!.slice('/api/issues/'.length))
    if (number === '') return response.end('[]')
    asked.push(number)
    const { status, text } = answers.get(number) ?? { status: 404, text: '{}' }
    response.writeHead(status).end(text)
  })
  await new Promise<void>((resolve) => tracker.listen(0, '127.0.0.1', resolve))
  await setTracker(ctx, { url: `http://127.0.0.1:${(tracker.address() as AddressInfo).port}` }, 'Tomas')
})
afterAll(async () => {
  tracker.close()
  await ctx.end()
})
beforeEach(async () => {
  await ctx.db.execute(sql`truncate defects cascade`)
  answers.clear()
  asked.length = 0
})

const sent = (number: string, state?: string) => addedDefect(ctx, number, state)
const stateOf = async (id: number) => (await defectById(ctx.db, id))!.trackerState
const later = () => ctx.db.execute(sql`update defects set tracker_read_at = now() - interval '1 hour'`)
const told = (number: string, state: string) => ({ status: 200, text: JSON.stringify({ number, state }) })

test('each open one is asked for, not again at once, and not any more when it is over', async () => {
  const [open, over] = [await sent('FSF-1'), await sent('FSF-2', 'closed')]
  answers.set('FSF-1', told('FSF-1', 'said fixed'))
  expect(await readTrackerStates(ctx)).toBe(1)
  expect(await readTrackerStates(ctx)).toBe(0)
  expect(asked).toEqual(['FSF-1'])
  expect([await stateOf(open), await stateOf(over)]).toEqual(['said fixed', 'closed'])
  const { waiting } = await nowViewModel(ctx, 0)
  expect(waiting.find(({ area }) => area === 'Defects')).toMatchObject({
    title: '1 defect said to be fixed',
    why: 'FSF-1 FSF-1',
    href: '/defects?words=said%20fixed',
  })
  answers.set('FSF-1', told('FSF-1', 'closed'))
  await later()
  await readTrackerStates(ctx)
  await later()
  await readTrackerStates(ctx)
  expect(asked).toEqual(['FSF-1', 'FSF-1'])
})

test.each<[string, { status: number; text: string }, string]>([
  ['it does not know how to tell', { status: 404, text: 'no' }, 'open'],
  ['it shows a page', { status: 200, text: '<p>Welcome</p>' }, 'open'],
  ['it tells of another one', told('FSF-9', 'closed'), 'open'],
  ['it tells no state', told('FSF-1', ''), 'open'],
  ['what it says cannot be stored', told('FSF-1', 'clo\u0000sed'), 'clo␀sed'],
  ['it was deleted there', { status: 410, text: '' }, 'deleted there'],
])('%s', async (_, answer, state) => {
  const id = await sent('FSF-1')
  answers.set('FSF-1', answer)
  await readTrackerStates(ctx)
  expect(await stateOf(id)).toBe(state)
  expect((await defectById(ctx.db, id))!.trackerReadAt).not.toBeNull()
})

test('a tracker that is down is asked once, and again later', async () => {
  const ids = [await sent('FSF-1'), await sent('FSF-2')]
  answers.set('FSF-1', { status: 503, text: '' })
  answers.set('FSF-2', told('FSF-2', 'in work'))
  expect(await readTrackerStates(ctx)).toBe(0)
  expect(asked).toHaveLength(1)
  answers.set('FSF-1', told('FSF-1', 'in work'))
  expect(await readTrackerStates(ctx)).toBe(2)
  expect(await Promise.all(ids.map(stateOf))).toEqual(['in work', 'in work'])
})

test('a number is a part of the address, whatever is in it', async () => {
  await sent('../../secrets?x=1')
  await readTrackerStates(ctx)
  expect(asked).toEqual(['../../secrets?x=1'])
})

test('nothing is handed to the worker when there is nothing to ask', async () =>
  expect(await enqueueTrackerReads(ctx)).toBeUndefined())

test('a title that somebody gave it there is told, until it has ours again; a title that was cut is ours', async () => {
  const id = await sent('FSF-7', 'open')
  const titleOf = async () => (await defectById(ctx.db, id))!.trackerTitle
  const ours = (await defectById(ctx.db, id))!.title
  const read = async (title: string) => {
    answers.set('FSF-7', { status: 200, text: JSON.stringify({ number: 'FSF-7', state: 'open', title }) })
    await later()
    return readTrackerStates(ctx)
  }
  expect([await read(ours), await titleOf()]).toEqual([0, null])
  expect([await read(ours.slice(0, 3)), await titleOf()]).toEqual([0, null])
  expect([await read('The lamp is out'), await titleOf()]).toEqual([1, 'The lamp is out'])
  expect([await read('The lamp is out'), await titleOf()]).toEqual([0, 'The lamp is out'])
  expect([await read(ours), await titleOf()]).toEqual([1, null])
})

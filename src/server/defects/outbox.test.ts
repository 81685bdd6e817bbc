import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { STANDARD_MAPPING } from '@/core/tracker'
import { defectById } from '@/db/defects'
import { testContext, type TestContext } from '../testing/context'
import { addedDefect } from './testing/defect'
import {
  messagesViewModel,
  outboxViewModel,
  putTrackerMapping,
  sayOfDefect,
  sendMessages,
  sendNow,
  setTracker,
  settleMessage,
  tryAllNow,
} from '.'

let ctx: TestContext
let tracker: Server
/** Where the tracker has every defect, and what it was told. */
let there = 'open'
const said: Record<string, string>[] = []
beforeAll(async () => {
  ctx = await testContext()
  tracker = createServer((request, response) => {
    let text = ''
    request
      .on('data', (part) => (text += String(part)))
      .on('end', () => {
        if (request.method === 'POST') said.push(JSON.parse(text) as Record<string, string>)
        const number = /issues\/([^/]+)/.exec(request.url!)?.[1]
        response.end(JSON.stringify(number === undefined ? [] : { number, state: there }))
      })
  })
  await new Promise<void>((resolve) => tracker.listen(0, '127.0.0.1', resolve))
  await setTracker(ctx, { url: `http://127.0.0.1:${(tracker.address() as AddressInfo).port}` }, 'Tomas')
})
afterAll(async () => {
  tracker.close()
  await ctx.end()
})
beforeEach(async () => {
  await ctx.db.execute(sql`truncate defects, audit cascade`)
  await ctx.db.execute(sql`select graphile_worker.complete_jobs(array_agg(id)) from graphile_worker.jobs`)
  said.length = 0
  there = 'open'
})

test('what waits stands there in its order, with when it is tried again', async () => {
  const [one, two] = [await addedDefect(ctx), await addedDefect(ctx, 'FSF-2')]
  await sayOfDefect(ctx, two, { text: 'Seen again' }, 'Joss')
  await sendNow(ctx, one, 'Wren', 'desk@fennel-sound.invalid')
  await sayOfDefect(ctx, two, { text: 'Mended', state: 'closed' }, 'Priya')
  const waiting = await outboxViewModel(ctx)
  expect(waiting.map(({ defectId, what, to, by }) => [defectId, what, to, by])).toEqual([
    [one, 'The defect', 'desk@fennel-sound.invalid', 'Wren'],
    [two, 'Seen again', 'the tracker', 'Joss'],
    [two, 'Closes it: Mended', 'the tracker', 'Priya'],
  ])
  expect(waiting.every(({ nextAt }) => nextAt !== null)).toBe(true)
})

test('what no job is left for says so, until all is tried now', async () => {
  const id = await addedDefect(ctx, 'FSF-2')
  await sayOfDefect(ctx, id, { text: 'Seen again' }, 'Joss')
  await ctx.db.execute(sql`select graphile_worker.complete_jobs(array_agg(id)) from graphile_worker.jobs`)
  expect(await outboxViewModel(ctx)).toMatchObject([{ nextAt: null }])
  expect(await tryAllNow(ctx, 'Wren')).toBe(1)
  expect((await outboxViewModel(ctx))[0]!.nextAt).not.toBeNull()
})

test('a state that somebody changed there meanwhile is not undone unseen; those after it wait', async () => {
  const id = await addedDefect(ctx, 'FSF-2')
  await sayOfDefect(ctx, id, { text: 'Mended', state: 'closed' }, 'Wren')
  await sayOfDefect(ctx, id, { text: 'And thanks' }, 'Wren')
  there = 'in work'
  await sendMessages(ctx, id)
  await sendMessages(ctx, id)
  expect(said).toEqual([])
  const [first] = await messagesViewModel(ctx, id)
  expect(first!.conflict).toEqual({ seen: 'open', now: 'in work' })
  expect(await outboxViewModel(ctx)).toMatchObject([
    { conflict: { seen: 'open', now: 'in work', wanted: 'closed' } },
    { conflict: null },
  ])
  await settleMessage(ctx, { defectId: id, messageId: first!.id, how: 'insist' }, 'Wren')
  await sendMessages(ctx, id)
  expect(said.map(({ text, state }) => [text, state])).toEqual([
    ['Mended\n\n(Wren)', 'closed'],
    ['And thanks\n\n(Wren)', undefined],
  ])
})

test('a message is withdrawn as long as it waits, and those after it are said', async () => {
  const id = await addedDefect(ctx, 'FSF-2')
  await sayOfDefect(ctx, id, { text: 'Mended', state: 'closed' }, 'Wren')
  await sayOfDefect(ctx, id, { text: 'Still there' }, 'Joss')
  const [first, second] = await messagesViewModel(ctx, id)
  const settle = (messageId: number) =>
    settleMessage(ctx, { defectId: id, messageId, how: 'withdraw' }, 'Wren')
  await settle(first!.id)
  await sendMessages(ctx, id)
  expect(said.map(({ text }) => text)).toEqual(['Still there\n\n(Joss)'])
  for (const gone of [first!.id, second!.id])
    await expect(settle(gone)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect((await defectById(ctx.db, id))!.trackerState).toBe('open')
})

test('one that stands there as wanted is said: its answer may have been lost', async () => {
  const ours = { ...STANDARD_MAPPING.states, reopen: 'At sea' }
  await putTrackerMapping(ctx, { ...STANDARD_MAPPING, states: ours, people: { Joss: 'jo' } }, 'Tomas')
  const id = await addedDefect(ctx, 'FSF-2', 'closed')
  await sayOfDefect(ctx, id, { text: 'Again', state: 'open', assignee: 'Joss' }, 'Wren')
  there = 'At sea'
  await sendMessages(ctx, id)
  expect(said).toMatchObject([{ state: 'At sea', assignee: 'jo' }])
})

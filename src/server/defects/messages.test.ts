import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { defectById } from '@/db/defects'
import { testContext, type TestContext } from '../testing/context'
import { addedDefect } from './testing/defect'
import { messagesViewModel, sayOfDefect, sendMessages, setTracker, TrackerProblem } from '.'

type Said = { key: string; text: string; state?: string }

let ctx: TestContext
let tracker: Server
/** Answers in their order; `cut`: it takes the message, and the answer is lost. The last holds on. */
let answers: (number | 'cut')[] = []
const said: (Said & { number: string })[] = []

beforeAll(async () => {
  ctx = await testContext()
  tracker = createServer((request, response) => {
    if (request.method === 'GET') return response.end('[]')
    let text = ''
    request
      .on('data', (part) => (text += String(part)))
      .on('end', () => {
        const answer = (answers.length > 1 ? answers.shift() : answers[0])!
        const [, number = ''] = /^\/api\/issues\/(.+)\/comments$/.exec(decodeURIComponent(request.url!)) ?? []
        const message = JSON.parse(text) as Said
        const isTaken = answer === 'cut' || answer < 300
        // as a tracker has to: the same key is the same message
        if (isTaken && !said.some(({ key }) => key === message.key)) said.push({ number, ...message })
        if (answer === 'cut') return void request.socket.destroy()
        response.writeHead(answer).end('{}')
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
  answers = [201]
  said.length = 0
})

const defect = (number?: string) => addedDefect(ctx, number, 'said fixed')

test('it is said there with who said it, and the state goes along', async () => {
  const id = await defect('FSF 7/2')
  await sayOfDefect(ctx, id, { text: 'Mended on build 2.0', state: 'closed' }, 'Priya')
  expect((await messagesViewModel(ctx, id))[0]).toMatchObject({ by: 'Priya', sentAt: null, problem: null })
  await sendMessages(ctx, id)
  expect(said).toMatchObject([{ number: 'FSF 7/2', text: 'Mended on build 2.0\n\n(Priya)', state: 'closed' }])
  expect((await messagesViewModel(ctx, id))[0]!.sentAt).not.toBeNull()
  expect((await defectById(ctx.db, id))!.trackerState).toBe('closed')
})

test('while the tracker is down all waits with why, and is said in its order afterwards', async () => {
  const id = await defect('FSF-7')
  for (const text of ['one', 'two', 'three']) await sayOfDefect(ctx, id, { text }, 'Priya')
  answers = [503]
  await expect(sendMessages(ctx, id)).rejects.toBeInstanceOf(TrackerProblem)
  expect((await messagesViewModel(ctx, id)).map(({ problem, tries }) => [problem, tries])).toEqual([
    ['The tracker answers 503.', 1],
    [null, 0],
    [null, 0],
  ])
  answers = [201, 503]
  await expect(sendMessages(ctx, id)).rejects.toBeInstanceOf(TrackerProblem)
  answers = [201]
  await sendMessages(ctx, id)
  expect(said.map(({ text }) => text.split('\n')[0])).toEqual(['one', 'two', 'three'])
})

test('an answer that is lost makes no second message', async () => {
  const id = await defect('FSF-7')
  await sayOfDefect(ctx, id, { text: 'once' }, 'Priya')
  answers = ['cut', 200]
  await expect(sendMessages(ctx, id)).rejects.toBeInstanceOf(TrackerProblem)
  await sendMessages(ctx, id)
  await sendMessages(ctx, id)
  expect(said).toHaveLength(1)
  expect((await messagesViewModel(ctx, id))[0]).toMatchObject({ problem: null, tries: 2 })
})

test('of a defect that the tracker does not have nothing is said', async () => {
  await expect(sayOfDefect(ctx, await defect(), { text: 'a' }, 'Priya')).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
  await expect(sayOfDefect(ctx, 999_999, { text: 'a' }, 'Priya')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await sendMessages(ctx, 999_999)
  expect(said).toEqual([])
})

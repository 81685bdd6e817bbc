import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { STANDARD_MAPPING, type TrackerMapping } from '@/core/tracker'
import { defectById } from '@/db/defects'
import { signatureOf } from '../http/signed'
import { testContext, type TestContext } from '../testing/context'
import { addedDefect } from './testing/defect'
import {
  newTrackerSecret,
  putTrackerMapping,
  readTrackerStates,
  sayOfDefect,
  sendDefect,
  sendMessages,
  sendNow,
  setTracker,
  takeTrackerMessage,
} from '.'

const NOW = Date.parse('2026-11-12T08:00:00Z')
const OURS: TrackerMapping = {
  states: { closed: ['Ashore'], saidFixed: ['Moored'], close: 'Ashore', reopen: 'At sea' },
  severities: { low: 'breeze' },
  fields: [{ name: 'labels', value: '${environment} ${build} ${person}' }],
  people: {},
  attach: false,
}

let ctx: TestContext
let tracker: Server
const received: Record<string, unknown>[] = []
beforeAll(async () => {
  ctx = await testContext()
  tracker = createServer((request, response) => {
    if (request.url === '/api/issues' && request.method === 'GET') return response.end('[]')
    if (request.method === 'GET') return response.end('{ "number": "FSF-1", "state": "ashore" }')
    let text = ''
    request
      .on('data', (part) => (text += String(part)))
      .on('end', () => {
        received.push(JSON.parse(text) as Record<string, unknown>)
        response.writeHead(201).end('{ "number": "FSF-1", "state": "moored" }')
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
  await putTrackerMapping(ctx, OURS, 'Tomas')
  received.length = 0
})

const defect = (number?: string) => addedDefect(ctx, number)
const stateOf = async (id: number) => (await defectById(ctx.db, id))!.trackerState
function signed(secret: string, body: string, at = NOW) {
  const timestamp = String(at / 1000)
  const signature = `v1,${signatureOf(secret, 'm1', timestamp, body)}`
  return { body, headers: { id: 'm1', timestamp, signature } }
}

test('a defect is sent with the tracker’s severity and fields, and its state is told in our words', async () => {
  const id = await defect()
  await sendNow(ctx, id, 'Wren')
  await sendDefect(ctx, id)
  expect(received[0]).toMatchObject({ title: 'No fare', severity: 'breeze', labels: 'Wide 1.0 Wren' })
  expect(await stateOf(id)).toBe('said fixed')
  await ctx.db.execute(sql`update defects set tracker_read_at = null`)
  await readTrackerStates(ctx)
  expect(await stateOf(id)).toBe('closed')
})

test('closing and opening again are said with its words', async () => {
  const id = await defect('FSF-1')
  for (const state of ['closed', 'open'] as const) await sayOfDefect(ctx, id, { text: 'x', state }, 'Wren')
  await sendMessages(ctx, id)
  expect(received.map(({ state }) => state)).toEqual(['Ashore', 'At sea'])
})

test('a mapping that cannot be is refused, and changes nothing', async () => {
  const wrong = { ...STANDARD_MAPPING, fields: [{ name: 'body', value: '' }] }
  await expect(putTrackerMapping(ctx, wrong, 'Tomas')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  const id = await defect()
  await sendNow(ctx, id, 'Wren')
  await sendDefect(ctx, id)
  expect(received[0]).toHaveProperty('labels')
})

test('what the tracker tells in a signed message holds at once', async () => {
  const [one, other] = [await defect('FSF-1'), await defect('FSF-2')]
  const secret = await newTrackerSecret(ctx, 'Tomas')
  await takeTrackerMessage(ctx, signed(secret, '{ "number": "FSF-1", "state": "MOORED", "by": 3 }'), NOW)
  expect([await stateOf(one), await stateOf(other)]).toEqual(['said fixed', 'open'])
  await takeTrackerMessage(ctx, signed(secret, '{ "number": "FSF-99", "state": "moored" }'), NOW)
})

test('who does not have the secret changes nothing', async () => {
  const id = await defect('FSF-1')
  const body = '{ "number": "FSF-1", "state": "ashore" }'
  const before = await newTrackerSecret(ctx, 'Tomas')
  const secret = await newTrackerSecret(ctx, 'Tomas')
  const { headers } = signed(secret, body)
  for (const [message, at] of [
    [signed(before, body), NOW],
    [{ body: body.replace('FSF-1', 'FSF-2'), headers }, NOW],
    [{ body, headers }, NOW + 3_600_000],
    [{ body, headers: { ...headers, signature: null } }, NOW],
  ] as const)
    await expect(takeTrackerMessage(ctx, message, at)).rejects.toMatchObject({ code: 'SIGNATURE_WRONG' })
  for (const text of ['no json', '{ "number": 1, "state": "x" }', '[]'])
    await expect(takeTrackerMessage(ctx, signed(secret, text), NOW)).rejects.toMatchObject({
      code: 'BODY_INVALID',
    })
  expect(await stateOf(id)).toBe('open')
})

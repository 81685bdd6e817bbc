import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import { runs } from '@/db/schema'
import { claimWork, finishAttempt } from '../dispatch'
import { signatureOf } from '../http/signed'
import { startRotation } from '../rota'
import { addAgent, seedFiles, simpleCase, testContext, type TestContext } from '../testing/context'
import { hookLines, makeHook, makeTrigger, removeHook, takeTrigger, tellHook, type Told } from '.'

let ctx: TestContext
let server: Server
let address: string
let answer = 204
const got: { headers: IncomingHttpHeaders; body: string }[] = []
const SOURCE = 'http://oak.test'

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'night.rotation.yaml':
      'rotation: night\ntitle: Night\nwhat: [{ case: a }]\nretries: 0\nwhere: { environments: [wide] }\n',
  })
  await addAgent(ctx, 'one')
  server = createServer((request, response) => {
    const parts: Buffer[] = []
    request
      .on('data', (part: Buffer) => parts.push(part))
      .on('end', () => {
        got.push({ headers: request.headers, body: Buffer.concat(parts).toString() })
        response.writeHead(answer).end()
      })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/oak`
})
afterAll(async () => {
  server.close()
  await ctx.end()
})
beforeEach(async () => {
  got.length = 0
  answer = 204
  await ctx.db.execute(sql`truncate runs, hooks, taken_messages cascade`)
  await ctx.db.execute(sql`select graphile_worker.complete_jobs(array_agg(id)) from graphile_worker.jobs`)
})

/** What waits to be sent, as the worker would take it. */
async function jobs(): Promise<Told[]> {
  const { rows } = await ctx.db.execute<{ payload: Told }>(
    sql`select payload from graphile_worker._private_jobs j order by j.id`,
  )
  return rows.map(({ payload }) => payload)
}
async function run(outcome: 'passed' | 'failed'): Promise<number> {
  const id = await startRotation(ctx, 'night', {}, 'Wren')
  const {
    rows: [agent],
  } = await ctx.db.execute(sql`select id, name, pool, seats, environments from agents`)
  const work = (await claimWork(ctx, agent as never))!
  await finishAttempt(ctx, work, {
    outcome,
    ms: 5,
    ...(outcome === 'failed' && { failure: { kind: 'check' as const, message: 'no' } }),
  })
  return id
}

describe('who wants to know is told', () => {
  test('nobody wants to: nothing waits to be sent', async () => {
    await run('passed')
    expect(await jobs()).toEqual([])
  })
  test('start and end of a run as CloudEvents, signed', async () => {
    const { secret } = await makeHook(ctx, { address, events: ['run.started', 'run.ended'] }, 'Tomas')
    const id = await run('passed')
    for (const told of await jobs()) await tellHook(ctx, told, SOURCE)
    expect(got.map(({ body }) => JSON.parse(body) as object)).toMatchObject([
      {
        specversion: '1.0',
        type: 'oak-rotation.run.started',
        source: `${SOURCE}/runs`,
        subject: String(id),
        data: { run: id, rotation: 'night', address: `${SOURCE}/runs/${id}`, forecast: { caseRuns: 1 } },
      },
      { type: 'oak-rotation.run.ended', data: { state: 'ended', counts: { passed: 1 }, why: null } },
    ])
    const { headers, body } = got[0]!
    expect(headers['content-type']).toBe('application/cloudevents+json; charset=utf-8')
    expect(headers['webhook-signature']).toBe(
      `v1,${signatureOf(secret, String(headers['webhook-id']), String(headers['webhook-timestamp']), body)}`,
    )
    expect(await hookLines(ctx)).toMatchObject([{ address, lastAnswer: '204' }])
  })
  test('a case that fails and passed in the run before; one that fails again is no news', async () => {
    await run('passed')
    await makeHook(ctx, { address, events: ['failure.new'] }, 'Tomas')
    await run('failed')
    await run('failed')
    for (const told of await jobs()) await tellHook(ctx, told, SOURCE)
    expect(
      got.map(({ body }) =>
        (JSON.parse(body) as { data: { cases: { case: string }[] } }).data.cases.map((one) => one.case),
      ),
    ).toEqual([['a']])
  })
  test('what is not taken is an error, so that it is sent again, with the same id; the answer is shown', async () => {
    await makeHook(ctx, { address, events: ['run.ended'] }, 'Tomas')
    await run('passed')
    answer = 503
    const [told] = await jobs()
    await expect(tellHook(ctx, told!, SOURCE)).rejects.toThrow('503')
    expect(await hookLines(ctx)).toMatchObject([{ lastAnswer: '503' }])
    answer = 200
    await tellHook(ctx, told!, SOURCE)
    expect(new Set(got.map(({ headers }) => headers['webhook-id'])).size).toBe(1)
  })
  test('nobody there, and an address that was removed meanwhile', async () => {
    const { id } = await makeHook(ctx, { address: 'http://127.0.0.1:1/', events: ['run.ended'] }, 'Tomas')
    await run('passed')
    const [told] = await jobs()
    await expect(tellHook(ctx, told!, SOURCE)).rejects.toThrow('no answer')
    await removeHook(ctx, id, 'Tomas')
    await tellHook(ctx, told!, SOURCE)
  })
})

describe('a signed message starts a rotation', () => {
  const send = async (secret: string, body: string, { id = 'm1', age = 0 } = {}) => {
    const timestamp = String(Math.floor(Date.now() / 1000) - age)
    return takeTrigger(
      ctx,
      'night',
      body,
      { id, timestamp, signature: `v1,${signatureOf(secret, id, timestamp, body)}` },
      Date.now(),
    )
  }
  test('once, however often it comes', async () => {
    const secret = await makeTrigger(ctx, 'night', 'Wren')
    const first = await send(secret, '{"build":"2.0"}')
    expect(first).toEqual(expect.any(Number))
    expect(await send(secret, '{"build":"2.0"}')).toBeUndefined()
    expect(await send(secret, '', { id: 'm2' })).toBe(first! + 1)
    expect(await ctx.db.select({ build: runs.build, by: runs.startedBy }).from(runs)).toEqual([
      { build: '2.0', by: 'a signed message' },
      // the newest: that of the first
      { build: '2.0', by: 'a signed message' },
    ])
  })
  test.each([
    ['another secret', () => send('whsec_AAAA', '{}'), 'SIGNATURE_WRONG'],
    [
      'an old one',
      async () => send(await makeTrigger(ctx, 'night', 'Wren'), '{}', { age: 3600 }),
      'SIGNATURE_WRONG',
    ],
    ['a body that is none', async () => send(await makeTrigger(ctx, 'night', 'Wren'), '{'), 'BODY_INVALID'],
    [
      'a body with more',
      async () => send(await makeTrigger(ctx, 'night', 'Wren'), '{"suite":"x"}'),
      'BODY_INVALID',
    ],
    ['a rotation that is none', () => makeTrigger(ctx, 'gone', 'Wren'), 'NOT_FOUND'],
  ])('%s is refused, and nothing starts', async (_, work, code) => {
    await expect(work()).rejects.toMatchObject({ code })
    expect(await ctx.db.$count(runs)).toBe(0)
  })
})

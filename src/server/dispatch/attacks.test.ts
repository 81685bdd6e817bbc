/** What an agent, or a page that speaks through one, may try against the server. */
import { sql } from 'drizzle-orm'
import type { NumberedEvent, Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { eventsOf } from '@/db/logs'
import { attemptRow, runViewModel } from '@/db/runs'
import { attemptViewModel } from '../view-models'
import { readAgentBody } from '../http/route'
import { keepScreen } from '../live'
import { cancelRun, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'
import {
  agentBodies,
  claimWork,
  endUnreported,
  finishAttempt,
  heartbeat,
  ingestEvents,
  meet,
  pauseAgents,
  registerAgent,
  requireHeld,
} from '.'

let ctx: TestContext
let mine: AgentRow
let other: AgentRow
let work: Work
let run: number

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents cascade`)
  mine = await addAgent(ctx, 'mine')
  other = await addAgent(ctx, 'other')
  const wanted = { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }
  run = await startRun(ctx, wanted, 'Wren')
  work = (await claimWork(ctx, mine))!
})

const hold = (agent: AgentRow) => ({ agentId: agent.id, attemptId: work.attemptId, lease: work.lease })
const note: NumberedEvent = { no: 1, atMs: 1, type: 'note', text: 'n' }
const pass = { outcome: 'passed', ms: 5 } as const
const inMinutes = (minutes: number) => laterBy(ctx, minutes * 60_000)

describe('an attempt belongs to the agent that claimed it', () => {
  const deeds: [string, (agent: AgentRow) => Promise<unknown>][] = [
    ['events', (agent) => ingestEvents(ctx, hold(agent), [note])],
    ['a screen', (agent) => keepScreen(ctx, hold(agent), 'image/jpeg', Buffer.from('x'))],
    ['evidence', (agent) => requireHeld(ctx, hold(agent))],
    [
      'a meeting and what it hands over',
      (agent) => meet(ctx, hold(agent), { gives: { a: 'b' } }, new AbortController().signal),
    ],
    ['a finish that passed', (agent) => finishAttempt(ctx, hold(agent), pass)],
    ['a finish with its last events', (agent) => finishAttempt(ctx, hold(agent), pass, [note])],
    ['a finish that failed', (agent) => finishAttempt(ctx, hold(agent), { outcome: 'errored', ms: 1 })],
  ]
  test.each(deeds)('%s of another agent is refused and changes nothing', async (_, deed) => {
    await expect(deed(other)).rejects.toMatchObject({ code: 'LEASE_LOST' })
    expect(await attemptRow(ctx.db, work.attemptId)).toMatchObject({
      state: 'claimed',
      outcome: null,
      lateResult: null,
    })
    expect(await eventsOf(ctx.db, work.attemptId)).toEqual([])
    await expect(deed(mine)).resolves.not.toThrow()
  })

  test('a heartbeat of another agent does not keep its lease, and is told to drop it', async () => {
    const before = (await attemptRow(ctx.db, work.attemptId))!.leasedUntil
    const { commands } = await heartbeat(inMinutes(1), other, { attempts: [hold(mine)] })
    expect(commands).toEqual([{ attemptId: work.attemptId, command: 'drop' }])
    expect((await attemptRow(ctx.db, work.attemptId))!.leasedUntil).toEqual(before)
  })
})

test('an agent declares only the environments its token was made for', async () => {
  const registration = {
    name: 'mine',
    instance: 'next',
    pool: 'test',
    version: '1',
    seats: 1,
    simulated: true,
    protocol: 2,
  }
  const token = { id: mine.tokenId!, environments: ['wide'] }
  await expect(
    registerAgent(ctx, token, { ...registration, environments: ['wide', 'narrow'] }),
  ).rejects.toMatchObject({
    code: 'ENVIRONMENT_NOT_GIVEN',
    message: expect.stringContaining('is not for narrow') as string,
  })
  await expect(registerAgent(ctx, token, { ...registration, environments: ['wide'] })).resolves.toMatchObject(
    { id: mine.id },
  )
})

describe('whatever a page says can be stored', () => {
  const sent = (event: object) =>
    readAgentBody(
      {
        headers: new Headers(),
        body: new Response(JSON.stringify({ lease: work.lease, events: [event] })).body,
      },
      agentBodies.events,
    )
  test.each([
    ['NUL', 'a\0b', 'a␀b'],
    ['half an emoji', 'half \ud83d', 'half �'],
    ['terminal codes', '\x1b[2J', '␛[2J'],
  ])('%s in a console line is shown as what it is', async (_, text, shown) => {
    const { events } = await sent({ no: 1, atMs: 1, type: 'console', path: 'main.0', level: 'log', text })
    await ingestEvents(ctx, hold(mine), events)
    expect(await eventsOf(ctx.db, work.attemptId)).toMatchObject([{ type: 'console', text: shown }])
  })
  test.each([
    ['a number of no event', { no: 3_000_000_000, atMs: 1, type: 'note', text: 'x' }, 'events.0.no'],
    ['a time beyond all attempts', { no: 1, atMs: 1e12, type: 'note', text: 'x' }, 'events.0.atMs'],
    ['a type that is none', { no: 1, atMs: 1, type: 'constructor' }, 'events.0'],
    [
      'words that are no words',
      { no: 1, atMs: 1, type: 'step-started', path: 'main.0', words: 7 },
      'events.0.words',
    ],
    [
      'a text without end',
      { no: 1, atMs: 1, type: 'console', path: 'main.0', level: 'log', text: 'x'.repeat(20_001) },
      'events.0.text',
    ],
    [
      'a screen without a picture',
      { no: 1, atMs: 1, type: 'screen', path: 'main.0', phase: 'after', width: 1, height: 1 },
      'events.0',
    ],
  ])('%s is refused with its place', async (_, event, place) => {
    await expect(sent(event)).rejects.toMatchObject({
      code: 'BODY_INVALID',
      message: expect.stringContaining(place) as string,
    })
  })
})

describe('an agent that gives signs of life and says nothing', () => {
  test('loses what it has after the time its case may take and two minutes, also while its run is being cancelled', async () => {
    await heartbeat(ctx, mine, { attempts: [hold(mine)] })
    expect(await endUnreported(inMinutes(2.9))).toBe(0)
    expect(await endUnreported(inMinutes(3.1))).toBe(1)
    work = (await claimWork(ctx, other))!
    await cancelRun(ctx, run, 'Wren')
    expect(await endUnreported(inMinutes(1.9))).toBe(0)
    await ingestEvents(inMinutes(2), hold(other), [note]) // what it says of it does not put that off
    expect(await endUnreported(inMinutes(2.1))).toBe(1)
    expect(await runViewModel(ctx.db, run)).toMatchObject({ state: 'ended', counts: { cancelled: 1 } })
  })

  test('may be silent as long as it is paused, and from then on as long as ever', async () => {
    await pauseAgents(ctx, { id: mine.id }, true, 'Wren')
    await ctx.db.execute(sql`update attempts set reported_at = now() - interval '1 hour'`)
    expect(await endUnreported(ctx)).toBe(0)
    await pauseAgents(ctx, { id: mine.id }, false, 'Wren')
    expect(await endUnreported(inMinutes(2.9))).toBe(0)
    expect(await endUnreported(inMinutes(3.1))).toBe(1)
  })
})

test('the reader opens an attempt of 190,000 lines', async () => {
  await ctx.db.execute(sql`
    insert into events (attempt_id, no, body)
    select ${work.attemptId}::uuid, n, case n % 5
      when 0 then jsonb_build_object('type', 'step-started', 'words',
        jsonb_build_object('verb', 'click', 'object', 'Go', 'detail', ''))
      when 1 then jsonb_build_object('type', 'step-ended', 'outcome', 'failed', 'ms', 1)
      else jsonb_build_object('type', 'console', 'level', 'log', 'text', 'line ' || n) end
      || jsonb_build_object('atMs', n, 'path', 'main.' || n / 5)
    from generate_series(1, 190000) n`)
  const { outline, ms } = await attemptViewModel(ctx, work.attemptId)
  expect([outline.lines, ms]).toEqual([38_001, 190_000])
})

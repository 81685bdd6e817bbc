/** What a rotation's plan means when it runs: pools, spread, before and after all, limits, forecasts. */
import { asc, eq, sql } from 'drizzle-orm'
import type { Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { agents, caseRuns, occurrenceStarts, runs } from '@/db/schema'
import { runSight } from '@/db/runs'
import type { Context } from '../context'
import { claimWork, editAgent, endOverdue, finishAttempt } from '../dispatch'
import { addAgent, seedFiles, simpleCase, simpleSuite, testContext, type TestContext } from '../testing/context'
import { changeRota, putBlackoutCalendars, rotaCalendar, startDue, startRotation } from '.'
import { nowSight, rotaSight } from '../sights'

let ctx: TestContext
const rotation = (key: string, more: string) => `rotation: ${key}\ntitle: ${key.toUpperCase()}\nwhat: [{ suite: one }]\nretries: 0\n${more}`
const keep = (key: string, more: string) => seedFiles(ctx, { [`${key}.rotation.yaml`]: rotation(key, more) })
const at = (instant: string): Context => ({ ...ctx, now: sql.raw(`'${instant}'::timestamptz`) })
const all = async (run: number) => await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, run)).orderBy(asc(caseRuns.position), asc(caseRuns.agent), asc(caseRuns.environment))
const lines = async (run: number) => (await all(run)).map(({ caseKey, environment, agent, state, outcome }) => [caseKey, environment, agent, outcome ?? state].filter(Boolean).join(' '))
const end = (work: Work, outcome: 'passed' | 'failed', handoffs?: Record<string, string>) =>
  finishAttempt(ctx, { attemptId: work.attemptId, lease: work.lease }, { outcome, ms: 1000, ...(outcome === 'failed' && { failure: { kind: 'check' as const, message: 'it is 3' } }), ...(handoffs && { handoffs }) })
const claim = async (agent: AgentRow) => (await claimWork(ctx, agent))!

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a', 'tags: [x]\n'), 'b.case.yaml': simpleCase('b', 'tags: [x]\n'), 'c.case.yaml': simpleCase('c'), 'one.suite.yaml': simpleSuite('one', ['a', 'b']), 'fetch.routine.yaml': 'routine: fetch\ntitle: Fetch\nsteps:\n  - open: booking:/\n' })
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents, occurrence_starts, rota_marks, settings cascade`)
  await ctx.db.execute(sql`delete from definitions where kind = 'rotation'`)
})

test('parts run in their order, each once where they stand', async () => {
  await addAgent(ctx, 'one')
  await seedFiles(ctx, { 'p.rotation.yaml': 'rotation: p\ntitle: P\nwhat: [{ case: c }, { rule: x }, { suite: one }]\nwhere: { environments: [wide] }\n' })
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect((await lines(run)).map((line) => line.split(' ')[0])).toEqual(['c', 'a', 'b', 'a', 'b'])
})

test('a pool: only its agents take of it; one that is moved there takes too', async () => {
  const [one, two] = [await addAgent(ctx, 'one'), await addAgent(ctx, 'two')]
  await editAgent(ctx, two.id, { pool: 'Handsets' }, 'Wren')
  await keep('p', 'where: { environments: [wide], pool: Handsets }\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect(await claimWork(ctx, one)).toBeUndefined()
  expect((await claim(two)).runId).toBe(run)
  await editAgent(ctx, one.id, { pool: 'Handsets' }, 'Wren')
  expect((await claim(one)).runId).toBe(run)
})

describe('spread', () => {
  test('everywhere: every agent does all of it, and nobody another’s', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 2, ['wide'])]
    await keep('p', 'where: { environments: [wide], spread: everywhere }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(await lines(run)).toEqual(['a wide one waiting', 'a wide two waiting', 'b wide one waiting', 'b wide two waiting'])
    for (const agent of [one, two]) for (const _ of [1, 2]) await end(await claim(agent), 'passed')
    expect(await lines(run)).toEqual(['a wide one passed', 'a wide two passed', 'b wide one passed', 'b wide two passed'])
    expect((await runSight(ctx.db, run))!.state).toBe('ended')
  })
  test('in sequence: one seat of one agent, one thing after the other', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 1, ['wide'])]
    await keep('p', 'where: { environments: [wide, narrow], spread: sequence }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(new Set((await all(run)).map(({ agent }) => agent))).toEqual(new Set(['one']))
    expect(await claimWork(ctx, two)).toBeUndefined()
    const first = await claim(one)
    expect(await claimWork(ctx, one)).toBeUndefined() // its second seat is free, and has to wait
    await end(first, 'passed')
    expect((await claim(one)).runId).toBe(run)
  })
  test('by hand: each case on the agent it was given to', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 2)]
    await keep('p', 'where: { environments: [wide], spread: assigned, lanes: { a: two, b: two } }\n')
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    expect(await lines(run)).toEqual(['a wide two waiting', 'b wide two waiting'])
    expect(await claimWork(ctx, one)).toBeUndefined()
    expect((await claim(two)).case.key).toBe('a')
  })
})

describe('what can be placed nowhere', () => {
  const elsewhere = 'where: { environments: [wide, narrow]'
  test('nothing starts until it is said that the rest is to run; then that is skipped, with the reason, and the run ends', async () => {
    const one = await addAgent(ctx, 'one', 2, ['wide'])
    await keep('p', `${elsewhere} }\n`)
    await expect(startRotation(ctx, 'p', {}, 'Wren')).rejects.toMatchObject({ code: 'UNPLACEABLE', detail: { count: 2, of: 4 }, message: expect.stringMatching(/^2 of 4 case runs can be placed nowhere. A and 1 more on NARROW: no agent serves/) as unknown })
    expect(await ctx.db.$count(runs)).toBe(0)
    const run = await startRotation(ctx, 'p', { despite: true }, 'Wren')
    expect(await lines(run)).toEqual(['a narrow skipped', 'a wide waiting', 'b narrow skipped', 'b wide waiting'])
    expect((await all(run))[0]!.failureMessage).toMatch(/^It can be placed nowhere: no agent serves/)
    for (const _ of [1, 2]) await end(await claim(one), 'passed')
    expect((await runSight(ctx.db, run))!.state).toBe('ended')
  })
  test('a rotation may say so once for all', async () => {
    await addAgent(ctx, 'one', 2, ['wide'])
    await keep('p', `${elsewhere}, leaveOut: true }\n`)
    expect((await runSight(ctx.db, await startRotation(ctx, 'p', {}, 'Wren')))!.counts).toMatchObject({ waiting: 2, skipped: 2 })
  })
})

describe('before and after all', () => {
  const around = 'where: { environments: [wide, narrow] }\nbefore: [{ use: fetch }]\nafter: [{ use: fetch }]\n'
  test('before comes first and once, what it hands off goes to every case, after comes when all is over', async () => {
    const one = await addAgent(ctx, 'one', 4)
    await keep('p', around)
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    const before = await claim(one)
    expect([before.case.key, before.environment.key, before.routines.map(({ key }) => key)]).toEqual(['before:all', 'wide', ['fetch']])
    expect(await claimWork(ctx, one)).toBeUndefined()
    await end(before, 'passed', { account: 'isla' })
    const works = [await claim(one), await claim(one), await claim(one), await claim(one)]
    expect(works.map(({ case: { key }, environment, handoffs }) => `${key} ${environment.key} ${handoffs.account}`).sort()).toEqual(['a narrow isla', 'a wide isla', 'b narrow isla', 'b wide isla'])
    await end(works[0]!, 'failed')
    for (const work of works.slice(1)) await end(work, 'passed')
    const after = await claim(one)
    expect([after.case.key, after.handoffs.account]).toEqual(['after:all', 'isla'])
    await end(after, 'passed')
    expect(await runSight(ctx.db, run)).toMatchObject({ state: 'ended', counts: { passed: 5, failed: 1 }, endedWhy: null })
  })
  test('by hand and everywhere it is still done once, by any agent', async () => {
    await addAgent(ctx, 'one', 2)
    await addAgent(ctx, 'two', 2)
    for (const spread of ['everywhere', 'assigned, lanes: { a: two, b: two }']) {
      await keep('p', `where: { environments: [wide], spread: ${spread} }\nbefore: [{ use: fetch }]\n`)
      expect((await lines(await startRotation(ctx, 'p', {}, 'Wren'))).filter((line) => line.startsWith('before'))).toEqual(['before:all wide waiting'])
    }
  })
  test('when nothing has a place, nothing starts whatever was said: such a run would never end', async () => {
    await addAgent(ctx, 'one', 2, ['narrow'])
    await keep('p', 'where: { environments: [wide], leaveOut: true }\nbefore: [{ use: fetch }]\n')
    await expect(startRotation(ctx, 'p', { despite: true }, 'Wren')).rejects.toMatchObject({ code: 'UNPLACEABLE' })
  })
  test('when before all does not pass, nothing starts, and the run says why', async () => {
    const one = await addAgent(ctx, 'one')
    await keep('p', around)
    const run = await startRotation(ctx, 'p', {}, 'Wren')
    await end(await claim(one), 'failed')
    expect((await runSight(ctx.db, run))!).toMatchObject({ endedWhy: 'What comes before all did not pass: it is 3', counts: { failed: 1, skipped: 4, waiting: 1 } })
    const after = await claim(one) // what cleans up is done all the same
    expect(after.case.key).toBe('after:all')
    await end(after, 'passed')
    expect((await runSight(ctx.db, run))!.state).toBe('ended')
  })
})

test('after so many failures the rest is not begun', async () => {
  const one = await addAgent(ctx, 'one')
  await keep('p', 'where: { environments: [wide, narrow] }\nstopAfter: 2\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  for (const _ of [1, 2]) await end(await claim(one), 'failed')
  expect(await runSight(ctx.db, run)).toMatchObject({ state: 'ended', endedWhy: 'The run stops after 2 failures', counts: { failed: 2, skipped: 2 } })
})

test('a run that goes on for longer than it may is cancelled, and says so', async () => {
  const one = await addAgent(ctx, 'one')
  await keep('p', 'where: { environments: [wide] }\nrunLimit: 10m\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  await claim(one)
  expect(await endOverdue(ctx)).toEqual([])
  await ctx.db.update(runs).set({ startedAt: sql`now() - interval '11 minutes'` })
  expect(await endOverdue(ctx)).toEqual([run])
  expect(await runSight(ctx.db, run)).toMatchObject({ state: 'cancelling', endedWhy: 'It went on for longer than 10 min' })
})

test('how it runs goes to the agents, and the forecast stays with the run', async () => {
  const one = await addAgent(ctx, 'one', 2)
  await keep('p', 'where: { environments: [wide, narrow] }\nhow: { settle: 300ms, video: never }\n')
  const run = await startRotation(ctx, 'p', {}, 'Wren')
  expect((await claim(one)).how).toMatchObject({ settleMs: 300, video: 'never', screens: 'always' })
  const { forecast } = (await runSight(ctx.db, run))!
  expect(forecast).toMatchObject({ caseRuns: 4, seats: 2, unplaceable: 0 })
  expect(forecast!.lanes.flatMap(({ items }) => items.map(([position, environment]) => `${position} ${environment}`)).sort()).toEqual(['0 narrow', '0 wide', '1 narrow', '1 wide'])
})

describe('after another rotation', () => {
  const start = async () => {
    const one = await addAgent(ctx, 'one')
    await seedFiles(ctx, { 'first.rotation.yaml': 'rotation: first\ntitle: FIRST\nwhat: [{ case: a }]\nretries: 0\nwhere: { environments: [wide] }\n', 'next.rotation.yaml': 'rotation: next\ntitle: NEXT\nwhat: [{ case: b }]\nwhere: { environments: [wide] }\nfollows: { rotation: first, on: passed }\n' })
    await startDue(ctx)
    return one
  }
  test('it starts once when a run of that has passed', async () => {
    const one = await start()
    await startRotation(ctx, 'first', {}, 'Wren')
    expect(await startDue(ctx)).toEqual([])
    await end(await claim(one), 'passed')
    expect(await startDue(ctx)).toMatchObject([{ rotation: 'next', did: 'started', why: expect.stringMatching(/^after run \d+ of FIRST$/) as unknown }])
    expect(await startDue(ctx)).toEqual([])
    expect(await ctx.db.$count(runs)).toBe(2)
  })
  test('not when that failed, and it is noted why', async () => {
    const one = await start()
    await startRotation(ctx, 'first', {}, 'Wren')
    await end(await claim(one), 'failed')
    expect(await startDue(ctx)).toMatchObject([{ rotation: 'next', did: 'skipped', why: expect.stringMatching(/^run \d+ of FIRST did not pass$/) as unknown }])
  })
})

test('not beside another rotation: it is skipped and says which', async () => {
  await addAgent(ctx, 'one')
  await keep('other', 'where: { environments: [wide] }\n')
  await keep('night', 'where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: 2026-11-01T22:00, notWith: [other] }\n')
  await startDue(at('2026-11-10T12:00:00Z'))
  await startRotation(ctx, 'other', {}, 'Wren')
  expect(await startDue(at('2026-11-10T22:00:01Z'))).toMatchObject([{ rotation: 'night', did: 'skipped', why: 'OTHER runs, and it is not to start beside it' }])
})

test('a calendar of the workspace keeps its rotations from starting', async () => {
  await addAgent(ctx, 'one')
  await expect(putBlackoutCalendars(ctx, [{ key: 'drills', title: 'Drills', blackout: [{ start: '2026-11-10T23:00', end: '2026-11-10T21:00' }] }], 'Wren')).rejects.toMatchObject({ code: 'BODY_INVALID', message: 'Drills: it ends before it starts.' })
  await putBlackoutCalendars(ctx, [{ key: 'drills', title: 'Drills', blackout: [{ start: '2026-11-10T21:00', end: '2026-11-10T23:00' }] }], 'Wren')
  await keep('night', 'where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: 2026-11-01T22:00, calendars: [drills] }\n')
  await startDue(at('2026-11-10T12:00:00Z'))
  expect(await startDue(at('2026-11-10T22:00:01Z'))).toEqual([])
  expect(await startDue(at('2026-11-11T22:00:01Z'))).toHaveLength(1)
})

describe('the rota', () => {
  const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)
  const look = () => rotaSight(ctx, new Date(`${tomorrow}T00:00:00Z`), new Date(Date.parse(`${tomorrow}T00:00:00Z`) + 86_400_000))
  const two = async () => {
    await addAgent(ctx, 'one', 2)
    for (const key of ['p', 'q']) await keep(key, `where: { environments: [wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: ${tomorrow}T22:00 }\n`)
  }
  test('two that want the same seats at once clash; the proposed move, taken, mends it; going back brings it back', async () => {
    await two()
    const sight = await look()
    expect(sight.occurrences.map(({ id, state, seats }) => [id, state, seats])).toEqual([[`p@${tomorrow}T22:00:00.000Z`, 'planned', { test: 2 }], [`q@${tomorrow}T22:00:00.000Z`, 'planned', { test: 2 }]])
    expect(sight.clashes).toMatchObject([{ pool: 'test', need: 4, have: 2 }])
    const mend = sight.clashes[0]!.mends[0]!
    if (mend.do !== 'move') throw new Error('a move was expected')
    const [key, from] = mend.id.split('@') as [string, string]
    const { before } = await changeRota(ctx, key, { move: { at: from, to: mend.at, series: false } }, 'Wren', Date.now())
    expect((await look()).clashes).toEqual([])
    expect((await look()).occurrences.find(({ rotation: of }) => of === key)).toMatchObject({ at: mend.at, movedFrom: from })
    expect(before).toBe(1)
  })
  test('what has passed cannot be moved to, and nothing is changed', async () => {
    await two()
    await expect(changeRota(ctx, 'p', { move: { at: `${tomorrow}T22:00:00Z`, to: '2026-01-01T00:00:00Z', series: false } }, 'Wren', Date.now())).rejects.toMatchObject({ code: 'BODY_INVALID', message: expect.stringContaining('has passed') as unknown })
  })
  test('a paused one plans nothing; what was skipped and what ran are in its past', async () => {
    await two()
    await changeRota(ctx, 'p', { paused: true }, 'Wren', Date.now())
    expect((await look()).occurrences.map(({ rotation: of }) => of)).toEqual(['q'])
    await ctx.db.insert(occurrenceStarts).values({ rotationKey: 'q', at: new Date(Date.now() - 60_000), state: 'skipped', why: 'nobody was there' })
    const run = await startRotation(ctx, 'q', {}, 'Wren')
    const past = await rotaSight(ctx, new Date(Date.now() - 3_600_000), new Date(Date.now() + 1000))
    expect(past.occurrences.map(({ state, note, runId }) => [state, note ?? runId])).toEqual([['skipped', 'nobody was there'], ['started', run]])
  })
  test('a clash of the next 24 hours waits for somebody on Now', async () => {
    await addAgent(ctx, 'one', 2)
    const soon = new Date(Date.now() + 2 * 3_600_000).toISOString().slice(0, 16)
    for (const key of ['p', 'q']) await keep(key, `where: { environments: [wide] }\nwhen: { timezone: UTC, start: ${soon} }\n`)
    expect((await nowSight(ctx, 0)).waiting.filter(({ area }) => area === 'Rota')).toMatchObject([{ title: 'P and Q clash', why: '4 seats of test wanted, 2 there' }])
  })
  test('one that can run nowhere is on the rota with what is wrong', async () => {
    await keep('p', 'where: { environments: [wide], pool: Gone }\n')
    expect((await look()).rotations).toMatchObject([{ key: 'p', problem: 'the pool “Gone” has no seats now' }])
  })
  test('as iCalendar: an event a start, as long as nine times in ten', async () => {
    await two()
    const text = rotaCalendar(await look(), 'http://oak.test')
    expect(text.split('\r\n').filter((line) => /^(BEGIN:VEVENT|DTSTART|SUMMARY|URL)/.test(line))).toEqual(['p', 'q'].flatMap((key) => ['BEGIN:VEVENT', `DTSTART:${tomorrow.replaceAll('-', '')}T220000Z`, `SUMMARY:${key.toUpperCase()}`, `URL:http://oak.test/rotations/${key}`]))
    expect(text).toMatch(/^BEGIN:VCALENDAR\r\nVERSION:2.0\r\n/)
  })
})

test('an agent that is gone is taken out of the fleet, one that is here is not; it is back when it registers', async () => {
  const { forgetAgent, registerAgent } = await import('../dispatch')
  const one = await addAgent(ctx, 'one')
  await expect(forgetAgent(ctx, one.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND', message: expect.stringContaining('is here') as unknown })
  await ctx.db.update(agents).set({ heartbeatAt: sql`now() - interval '1 hour'`, pool: 'Elsewhere' })
  await forgetAgent(ctx, one.id, 'Wren')
  const { listAgents } = await import('@/db/agents')
  expect(await listAgents(ctx.db, ctx.leaseMs)).toEqual([])
  await registerAgent(ctx, { id: one.tokenId!, scope: 'one' }, { name: 'one', instance: 'i', pool: 'test', version: '1', seats: 1, environments: ['wide'], simulated: true })
  expect(await listAgents(ctx.db, ctx.leaseMs)).toMatchObject([{ name: 'one', pool: 'Elsewhere' }]) // where a person put it
  await expect(registerAgent(ctx, { id: one.tokenId!, scope: 'one' }, { name: 'two', instance: 'i', pool: 'test', version: '1', seats: 1, environments: ['wide'], simulated: true })).rejects.toMatchObject({ code: 'AGENT_NAME_TAKEN', message: expect.stringContaining('for the agent “one” alone') as unknown })
})

test('estimates: waits of past runs are taken off, those of this one put on', async () => {
  const agent = await addAgent(ctx, 'one')
  await keep('slow', 'where: { environments: [wide] }\nhow: { between: 10s }\n')
  await keep('quick', 'where: { environments: [wide] }\n')
  const estimates = async (key: string) => (await all(await startRotation(ctx, key, {}, 'Wren'))).map(({ estimateMs }) => estimateMs)
  const before = await estimates('slow')
  expect(before.map((ms) => ms - 20_000)).toEqual(await estimates('quick')) // two steps, nothing known yet
  for (let i = 0; i < 2; i++) await end(await claim(agent), 'passed')
  await ctx.db.update(caseRuns).set({ durationMs: 25_000 }).where(sql`outcome = 'passed'`)
  expect([await estimates('slow'), await estimates('quick')]).toEqual([[25_000, 25_000], [5000, 5000]])
})

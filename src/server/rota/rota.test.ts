import { asc, sql } from 'drizzle-orm'
import { at as moment } from '@/db/moment'
import { connect } from '@/db/client'
import { occurrenceStarts, runs } from '@/db/schema'
import { runViewModel } from '@/db/runs'
import type { Context } from '../context'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  withOneConnection,
  type TestContext,
} from '../testing/context'
import { startDue, startRotation } from '.'

let ctx: TestContext
const rotation = (key: string, more: string) =>
  `rotation: ${key}\ntitle: ${key.toUpperCase()}\nwhat: [{ suite: one }]\nwhere: { environments: ` +
  `[wide] }\nretries: 0\n${more}`
const daily = (start: string, more = '') =>
  `when: { rule: FREQ=DAILY, timezone: Europe/Lisbon, start: ${start}${more} }\n`
const at = (instant: string): Context => ({ ...ctx, now: moment(new Date(instant)) })
const keep = (key: string, more: string) => seedFiles(ctx, { [`${key}.rotation.yaml`]: rotation(key, more) })
const starts = async () =>
  (await ctx.db.select().from(occurrenceStarts).orderBy(asc(occurrenceStarts.at))).map(
    ({ at: when, state, why }) => `${when.toISOString()} ${state}${why ? `: ${why}` : ''}`,
  )

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a', 'parameters: { port: Skerry }\n'),
    'one.suite.yaml': simpleSuite('one', ['a']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents, occurrence_starts, rota_marks cascade`)
  await ctx.db.execute(sql`delete from definitions where kind = 'rotation'`)
  await addAgent(ctx, 'one')
})

test('what lay before it was first looked at is not run; then each day once', async () => {
  await keep('night', daily('2026-11-01T22:00'))
  expect(await startDue(at('2026-11-10T12:00:00Z'))).toEqual([])
  expect(await startDue(at('2026-11-10T21:59:59Z'))).toEqual([])
  expect(await startDue(at('2026-11-10T22:00:02Z'))).toEqual([
    { rotation: 'night', at: '2026-11-10T22:00:00.000Z', did: 'started', run: 1 },
  ])
  expect(await startDue(at('2026-11-10T22:00:05Z'))).toEqual([])
  expect(await startDue(at('2026-11-11T22:00:01Z'))).toHaveLength(1)
  expect(await runViewModel(ctx.db, 1)).toMatchObject({
    title: 'NIGHT',
    build: '1.0',
    startedBy: 'the rota',
    counts: { waiting: 1 },
  })
})

test('a start asks no second connection while its rotation is locked', async () => {
  await keep('night', daily('2026-11-01T22:00'))
  await startDue(at('2026-11-10T12:00:00Z'))
  await withOneConnection(at('2026-11-10T22:00:02Z'), async (one) => {
    expect(await startDue(one)).toMatchObject([{ rotation: 'night', did: 'started' }])
  })
})

test('many workers look at the same moment: one run', async () => {
  await keep('night', daily('2026-11-01T22:00'))
  await keep('also', daily('2026-11-01T22:00'))
  await startDue(at('2026-11-10T12:00:00Z'))
  const others = Array.from({ length: 5 }, () => connect(ctx.connection.url))
  try {
    const done = (
      await Promise.all(
        others.flatMap((connection) =>
          [1, 2].map(() => startDue({ ...at('2026-11-10T22:00:01Z'), connection, db: connection.db })),
        ),
      )
    ).flat()
    expect(done.map((one) => one.rotation).sort()).toEqual(['also', 'night'])
    expect(await ctx.db.$count(runs)).toBe(2)
  } finally {
    await Promise.all(others.map((connection) => connection.close()))
  }
})

test.each([
  [
    'forward: 01:30 is skipped on 29 March, and runs an hour later',
    '01:30',
    '2026-03-29',
    ['2026-03-28T01:30:00.000Z', '2026-03-29T01:30:00.000Z', '2026-03-30T00:30:00.000Z'],
  ],
  [
    'back: 01:30 comes twice on 25 October, and runs the first time only',
    '01:30',
    '2026-10-25',
    ['2026-10-24T00:30:00.000Z', '2026-10-25T00:30:00.000Z', '2026-10-26T01:30:00.000Z'],
  ],
])('the clock goes %s', async (_, time, day, expected) => {
  await keep('night', daily(`2026-01-01T${time}`, ', missed: run'))
  const from = Date.parse(`${day}T00:00:00Z`) - 36 * 3_600_000
  for (let hour = 0; hour <= 72; hour += 0.5)
    await startDue(at(new Date(from + hour * 3_600_000).toISOString()))
  expect(
    (await starts()).filter((line) => line.includes('started')).map((line) => line.split(' ')[0]),
  ).toEqual(expected) // looked at each half hour, so each is late and runs once
})

test('what was missed while nobody was there is skipped and says so, or run once, late', async () => {
  await keep('strict', daily('2026-11-01T22:00'))
  await keep('kind', daily('2026-11-01T22:00', ', missed: run'))
  await startDue(at('2026-11-10T12:00:00Z'))
  const done = await startDue(at('2026-11-13T12:00:00Z'))
  expect(done.filter((one) => one.rotation === 'strict').map(({ did }) => did)).toEqual([
    'skipped',
    'skipped',
    'skipped',
  ])
  expect(done.filter((one) => one.rotation === 'kind').map(({ did }) => did)).toEqual([
    'skipped',
    'skipped',
    'started',
  ])
  expect(done.at(-1)!.why ?? done.find(({ did }) => did === 'started')!.why).toContain('nobody was there')
})

test('it does not start beside its own last run, if it is told so', async () => {
  await keep(
    'alone',
    'when: { rule: FREQ=HOURLY, timezone: UTC, start: 2026-11-01T00:00, whileRunning: skip }\n',
  )
  await startDue(at('2026-11-10T12:30:00Z'))
  await startDue(at('2026-11-10T13:00:01Z'))
  expect((await startDue(at('2026-11-10T14:00:01Z')))[0]).toMatchObject({
    did: 'skipped',
    why: 'the run before it still goes on',
  })
  await ctx.db.execute(sql`update case_runs set state = 'ended', outcome = 'passed'`)
  await ctx.db.execute(sql`update runs set state = 'ended'`)
  expect((await startDue(at('2026-11-10T15:00:01Z')))[0]).toMatchObject({ did: 'started' })
})

test('a start that does not go is noted with its reason, and the next one is tried', async () => {
  await keep('night', daily('2026-11-01T22:00'))
  await startDue(at('2026-11-10T12:00:00Z'))
  await ctx.db.execute(sql`update agents set environments = '{narrow}'`)
  expect((await startDue(at('2026-11-10T22:00:01Z')))[0]).toMatchObject({
    did: 'failed',
    why: expect.stringMatching(/^1 of 1 case runs can be placed nowhere. A on WIDE: no agent serves/),
  })
  await ctx.db.execute(sql`update agents set environments = '{wide}'`)
  expect((await startDue(at('2026-11-11T22:00:01Z')))[0]).toMatchObject({ did: 'started' })
  expect(await starts()).toHaveLength(2)
})

test('what fell into a pause was not missed', async () => {
  const text = daily('2026-11-01T22:00', ', missed: run')
  await keep('night', text)
  await startDue(at('2026-11-10T12:00:00Z'))
  await keep('night', `${text}paused: true\n`)
  expect(await startDue(at('2026-11-12T12:00:00Z'))).toEqual([])
  await keep('night', text)
  expect(await startDue(at('2026-11-12T13:00:00Z'))).toEqual([])
  expect(await startDue(at('2026-11-12T22:00:01Z'))).toHaveLength(1)
})

test('a paused one rests; by hand it starts all the same, with another build and values', async () => {
  await keep('night', `${daily('2026-11-01T22:00')}paused: true\n`)
  await startDue(at('2026-11-10T12:00:00Z'))
  expect(await startDue(at('2026-11-10T22:00:01Z'))).toEqual([])
  const id = await startRotation(ctx, 'night', { build: '2.0', with: { port: 'Tolva' } }, 'Wren')
  expect(await runViewModel(ctx.db, id)).toMatchObject({ build: '2.0', startedBy: 'Wren' })
  expect((await ctx.db.execute(sql`select parameters from case_runs`)).rows).toEqual([
    { parameters: { port: 'Tolva' } },
  ])
  const slip = { with: { port: 'Tolva', prot: 'Tolva' } }
  await expect(startRotation(ctx, 'night', slip, 'Wren')).rejects.toMatchObject({
    code: 'BODY_INVALID',
    message: 'No case of “NIGHT” takes “prot”; they take port.',
  })
  await expect(startRotation(ctx, 'nobody', {}, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

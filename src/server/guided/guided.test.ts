import { Readable } from 'node:stream'
import { sql } from 'drizzle-orm'
import sharp from 'sharp'
import type { GuidedVerdict } from '@/core/guided'
import { addPerson } from '@/db/people'
import { historyOfCases } from '@/db/case-history'
import { listAgents } from '@/db/agents'
import { beginByHand } from '@/db/guided'
import { runViewModel } from '@/db/runs'
import { knownEvidence, markUnused } from '@/db/evidence'
import { claimWork, expireLeases } from '../dispatch'
import { hashOf } from '../evidence/store'
import { askLog } from '../reading'
import { cancelRun, startAgain, startRun } from '../runs'
import { addAgent, laterBy, seedFiles, simpleSuite, testContext, type TestContext } from '../testing/context'
import {
  assignGuided,
  concludeGuided,
  guidedListViewModel,
  guidedSheetViewModel,
  keepGuidedPicture,
  keepGuidedVideo,
  saveGuided,
} from '.'

let ctx: TestContext
const BY_HAND = (key: string) => `case: ${key}
title: The gate ${key}
steps:
  - do: Scan the card on \${env.title}
    expect: the light is green
  - do: Count who is on board
`
beforeAll(async () => {
  ctx = await testContext()
  for (const [id, name, role] of [
    ['1', 'Wren', 'coordinator'],
    ['2', 'Priya', 'tester'],
    ['3', 'Edda', 'viewer'],
  ] as const)
    await addPerson(ctx.db, { id, name, username: name.toLowerCase(), role, passwordHash: 'x' })
  await seedFiles(ctx, {
    ...Object.fromEntries(['a', 'b', 'c', 'd'].map((key) => [`${key}.case.yaml`, BY_HAND(key)])),
    'gate.suite.yaml': simpleSuite('gate', ['a', 'b', 'c', 'd']),
    'one.suite.yaml': simpleSuite('one', ['a']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents, evidence cascade`)))

const start = (guided: { person: string; environments?: string[] }[], suite = 'one') =>
  startRun(ctx, { suite, environments: ['wide'], build: '1.0', retries: 2, limitMs: 60_000, guided }, 'Wren')
const open = async () => (await guidedListViewModel(ctx)).work
const first = async () => (await open())[0]!
const verdict = (
  path: string,
  is: GuidedVerdict['is'],
  more: Partial<GuidedVerdict> = {},
): GuidedVerdict => ({
  path,
  is,
  note: '',
  atMs: 1000,
  pictures: [],
  ...more,
})
const save = (id: string, version: number, verdicts: GuidedVerdict[], who = 'Priya', workedMs = 60_000) =>
  saveGuided(ctx, id, { version, verdicts, workedMs, facts: { device: 'a handset' }, video: null }, who)

test('work is dealt to people, and no agent takes any of it', async () => {
  const agent = await addAgent(ctx, 'tolva-01', 4)
  const id = await start([{ person: 'Wren' }, { person: 'Priya' }], 'gate')
  expect((await open()).map(({ person }) => person).toSorted()).toEqual(['Priya', 'Priya', 'Wren', 'Wren'])
  expect(await claimWork(ctx, agent)).toBeUndefined()
  expect(await runViewModel(ctx.db, id)).toMatchObject({ kind: 'guided', state: 'waiting', retries: 0 })
})

test('what is said is kept from day to day, and at the end is an attempt in history', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  expect(await save(id, 0, [verdict('main.0', 'passed')])).toBe(1)
  const days = laterBy(ctx, 3 * 86_400_000)
  expect(await guidedSheetViewModel(days, id, 'Priya')).toMatchObject({
    version: 1,
    workedMs: 60_000,
    verdicts: [{ path: 'main.0', is: 'passed' }],
    steps: [{ kind: 'do', expected: 'the light is green' }, { kind: 'do' }],
  })
  await expect(concludeGuided(days, id, 1, 'Priya')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await save(id, 1, [
    verdict('main.0', 'passed'),
    verdict('main.1', 'failed', { note: 'two are missing', atMs: 9000 }),
  ])
  const attempt = await concludeGuided(days, id, 2, 'Priya')
  const lines = await askLog(ctx, attempt, { ask: 'all' })
  expect(lines.map(({ path, mark, ms }) => [path, mark, ms])).toEqual([
    ['main.0', 'passed', 1000],
    ['main.1', 'failed', 8000],
  ])
  const [run] = (await ctx.db.execute(sql`select kind, state from runs`)).rows
  expect(run).toEqual({ kind: 'guided', state: 'ended' })
  const [row] = (await ctx.db.execute(sql`select outcome, duration_ms, failure_kind from case_runs`)).rows
  expect(row).toEqual({ outcome: 'failed', duration_ms: 60_000, failure_kind: 'check' })
  expect((await historyOfCases(ctx.db, ['a'])).get('a')).toBeDefined()
  expect(await open()).toEqual([])
  expect(await listAgents(ctx.db, ctx.leaseMs)).toEqual([]) // people are no part of the fleet
})

test('a video that was recorded is kept with the sheet, and stands in the log', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  const webm = Buffer.from([0x1a, 0x45, 0xdf, 0xa3, 1, 2, 3])
  const parts = (bytes: Buffer) => Readable.from([bytes.subarray(0, 2), bytes.subarray(2)])
  const page = Buffer.from('<!doctype html>')
  await expect(keepGuidedVideo(ctx, id, hashOf(page), parts(page))).rejects.toMatchObject({
    code: 'BODY_INVALID',
    message: expect.stringContaining('no video') as string,
  })
  expect((await knownEvidence(ctx.db, [hashOf(page)])).size).toBe(0)
  const video = { hash: hashOf(webm), startMs: 2000 }
  const asked = { verdicts: [verdict('main.0', 'cannot')], workedMs: 9000, facts: {}, video }
  await expect(saveGuided(ctx, id, { version: 0, ...asked }, 'Priya')).rejects.toMatchObject({
    code: 'BODY_INVALID',
    message: expect.stringContaining('record it again') as string,
  })
  await keepGuidedVideo(ctx, id, video.hash, parts(webm))
  await saveGuided(ctx, id, { version: 0, ...asked }, 'Priya')
  expect(await guidedSheetViewModel(ctx, id, 'Priya')).toMatchObject({ video })
  expect(await markUnused(ctx.db, ctx.now, -1, 10)).toEqual([])
  const attempt = await concludeGuided(ctx, id, 1, 'Priya')
  expect((await askLog(ctx, attempt, { ask: 'head' })).video).toEqual(video)
})

test('two at one sheet do not undo each other; who says something has the case', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  await save(id, 0, [verdict('main.0', 'passed')], 'Wren')
  expect((await open())[0]).toMatchObject({ person: 'Wren', judged: 1 })
  await expect(save(id, 0, [])).rejects.toMatchObject({
    code: 'CHANGED_MEANWHILE',
    message: expect.stringContaining('Wren') as string,
  })
  const both = await Promise.allSettled([save(id, 1, [], 'Wren'), save(id, 1, [], 'Priya')])
  expect(both.map(({ status }) => status).toSorted()).toEqual(['fulfilled', 'rejected'])
})

test('concluding twice at the same moment makes one attempt', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  await save(id, 0, [verdict('main.0', 'cannot')])
  const twice = await Promise.allSettled([1, 2].map(() => concludeGuided(ctx, id, 1, 'Priya')))
  expect(twice.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
  expect((await ctx.db.execute(sql`select outcome from attempts`)).rows).toEqual([{ outcome: 'errored' }])
})

test('a process that dies between the attempt and its end leaves the sheet, and the case is concluded again', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  await save(id, 0, [verdict('main.0', 'failed')])
  const begun = await ctx.db.transaction((tx) =>
    beginByHand(tx, id, { person: 'Priya', workedMs: 5 }, ctx.now, ctx.leaseMs),
  )
  expect(begun).toBeDefined()
  await expect(concludeGuided(ctx, id, 1, 'Priya')).rejects.toMatchObject({ code: 'RUN_ENDED' })
  expect(await expireLeases(laterBy(ctx, 10 * ctx.leaseMs))).toBe(1)
  await concludeGuided(ctx, id, 1, 'Priya')
  expect((await ctx.db.execute(sql`select outcome from case_runs`)).rows).toEqual([{ outcome: 'failed' }])
})

test('what comes next is the person’s own, in the order of the suite', async () => {
  await start([{ person: 'Priya' }], 'gate')
  const [one, two] = (await open()).map(({ id }) => id)
  expect((await guidedSheetViewModel(ctx, one!, 'Priya')).next?.id).toBe(two)
  expect((await guidedSheetViewModel(ctx, one!, 'Wren')).next).toBeNull()
})

test('what was pasted stays while its sheet is open, and is on the log then', async () => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  const png = await sharp({ create: { width: 8, height: 6, channels: 3, background: '#2b6f5c' } })
    .png()
    .toBuffer()
  const picture = await keepGuidedPicture(ctx, id, png)
  await save(id, 0, [verdict('main.0', 'failed', { pictures: [picture] })])
  const month = laterBy(ctx, 30 * 86_400_000)
  expect(await markUnused(ctx.db, month.now, 1000, 10)).toEqual([])
  const attempt = await concludeGuided(ctx, id, 1, 'Priya')
  expect((await askLog(ctx, attempt, { ask: 'all' }))[0]).toMatchObject({ after: picture })
  expect(await markUnused(ctx.db, month.now, 1000, 10)).toEqual([])
  await expect(keepGuidedPicture(ctx, id, png)).rejects.toMatchObject({ code: 'RUN_ENDED' })
})

test.each([
  ['a step that is not there', [verdict('main.7', 'passed')]],
  ['one step twice', [verdict('main.0', 'passed'), verdict('main.0', 'failed')]],
  [
    'a picture that is not here',
    [verdict('main.0', 'passed', { pictures: [{ hash: 'a'.repeat(64), width: 1, height: 1 }] })],
  ],
])('%s is refused, and keeps what was', async (_, verdicts) => {
  await start([{ person: 'Priya' }])
  const { id } = await first()
  await expect(save(id, 0, verdicts)).rejects.toMatchObject({ code: 'BODY_INVALID' })
  expect((await guidedSheetViewModel(ctx, id, 'Priya')).version).toBe(0)
})

test('work is given to others, all of it or none', async () => {
  await start([{ person: 'Priya' }], 'gate')
  const ids = (await open()).map(({ id }) => id)
  await assignGuided(ctx, { caseRuns: ids.slice(0, 2), person: 'Wren' }, 'Wren')
  expect((await open()).filter(({ person }) => person === 'Wren')).toHaveLength(2)
  await expect(assignGuided(ctx, { caseRuns: ids, person: 'Edda' }, 'Wren')).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
  const other = '00000000-0000-4000-8000-000000000000'
  await expect(
    assignGuided(ctx, { caseRuns: [...ids, other], person: 'Priya' }, 'Wren'),
  ).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect((await open()).filter(({ person }) => person === 'Wren')).toHaveLength(2)
})

test('each takes only what is on their environments; what nobody takes is told before anything starts', async () => {
  await expect(start([{ person: 'Priya', environments: ['narrow'] }])).rejects.toMatchObject({
    code: 'UNPLACEABLE',
  })
  await expect(start([{ person: 'Edda' }])).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(start([{ person: 'Nobody' }])).rejects.toMatchObject({ code: 'BODY_INVALID' })
})

test('a cancelled run takes nothing more, and its failures are done again by the same people', async () => {
  const run = await start([{ person: 'Priya' }], 'gate')
  const one = await first()
  await save(one.id, 0, [verdict('main.0', 'failed')])
  await concludeGuided(ctx, one.id, 1, 'Priya')
  const second = await first()
  await cancelRun(ctx, run, 'Wren')
  await expect(save(second.id, 0, [verdict('main.0', 'passed')])).rejects.toMatchObject({
    code: 'RUN_ENDED',
  })
  await startAgain(ctx, run, 'Wren')
  expect(await open()).toMatchObject([{ caseKey: one.caseKey, person: 'Priya' }])
})

import { createHash } from 'node:crypto'
import { sql } from 'drizzle-orm'
import readXlsx from 'read-excel-file/node'
import { verdictOn } from '@/core/reports'
import { putQuarantine } from '@/db/recovery'
import { addBuild } from '@/db/workspace'
import { seedFiles, testContext, type TestContext } from '../testing/context'
import { decideCauses, keepCauses, triageViewModel } from '../triage'
import { endedRun, FAILING_FILES } from '../triage/testing/failing'
import {
  coverageByBuild,
  releaseViewModel,
  serveRelease,
  serveRequirements,
  signRelease,
  takeRequirements,
} from '.'

const LIST = 'id,title,parent,importance\nR,Booking,,\nR1,Fares,R,must\nR2,Counts,R,should\nR3,Tides,,could\n'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  const evidence = { a: 'R1', b: 'R2', c: 'R2, R9' } as Record<string, string>
  const files = Object.entries(FAILING_FILES).map(([name, text]) => {
    const requires = evidence[name[0]!]
    return [
      name,
      name.endsWith('.case.yaml') ? text.replace('steps:', `requires: [${requires}]\nsteps:`) : text,
    ]
  })
  await seedFiles(ctx, Object.fromEntries(files))
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(
    sql`truncate runs, agents, builds, cause_decisions, requirements, releases, quarantines cascade`,
  )
  for (const build of ['1.0', '2.0']) {
    await addBuild(ctx.db, build)
    await ctx.db.execute(sql`update builds set created_at = ${`2026-11-0${build[0]}`} where label = ${build}`)
  }
  await takeRequirements(ctx, { list: LIST, look: false }, 'Wren')
})

const weights = async (build: string) => {
  const { sheet } = await releaseViewModel(ctx, build)
  return { verdict: sheet!.verdict, ...Object.fromEntries(sheet!.speaks.map((one) => [one.about, one.text])) }
}

test('each requirement is met as its cases ended, by environment, and above it as its parts are', async () => {
  await endedRun(ctx, '1.0', ['b'])
  const { build, requirements, counts, unknown, environments } = await releaseViewModel(ctx, null)
  expect(build).toBe('1.0')
  expect(requirements.map(({ key, depth, coverage, cells }) => [key, depth, coverage, cells])).toEqual([
    ['R', 0, 'failing', { wide: 'failing' }],
    ['R1', 1, 'passing', { wide: 'passing' }],
    ['R2', 1, 'failing', { wide: 'failing' }],
    ['R3', 0, 'uncovered', {}],
  ])
  expect(counts).toMatchObject({ passing: 1, failing: 1, uncovered: 1 })
  expect(unknown).toEqual([{ key: 'R9', cases: ['c'] }])
  expect(environments).toHaveLength(1)
})

test('the newest counts, of the build alone', async () => {
  await endedRun(ctx, '1.0', ['a', 'b', 'c'])
  await endedRun(ctx, '2.0', [], 2)
  const { requirements } = await releaseViewModel(ctx, '2.0')
  expect(requirements.map(({ coverage }) => coverage)).toEqual(['partly', 'passing', 'partly', 'uncovered'])
  expect(await weights('2.0')).toMatchObject({
    going: '1 run with it goes on.',
    'not-run': '1 case did not run that ran with 1.0 or names a requirement.',
    before: 'Of all that ran 100 % passed at the end; with 1.0 it was 0 % of 3.',
  })
})

test('the build before is the newest that anything ran with, however many came between', async () => {
  await endedRun(ctx, '1.0', ['a', 'b', 'c'])
  for (const between of ['1.1', '1.2', '1.3', '1.4', '1.5', '1.6']) {
    await addBuild(ctx.db, between)
    await ctx.db.execute(sql`update builds set created_at = '2026-11-01 12:00' where label = ${between}`)
  }
  await endedRun(ctx, '2.0', [], 2)
  expect(await weights('2.0')).toHaveProperty(
    'before',
    'Of all that ran 100 % passed at the end; with 1.0 it was 0 % of 3.',
  )
})

test('requirements stand by build as they stand by environment, from the one that is asked for back', async () => {
  await endedRun(ctx, '1.0', ['a', 'b', 'c'])
  await endedRun(ctx, '2.0', [], 2)
  const { builds, cells } = await coverageByBuild(ctx, '2.0')
  expect(builds).toEqual(['2.0', '1.0'])
  const { requirements } = await releaseViewModel(ctx, '2.0')
  for (const { key, coverage } of requirements.filter((one) => one.coverage !== 'uncovered')) {
    expect(cells[key]!['2.0']).toBe(coverage)
    expect(cells[key]!['1.0']).toBe('failing')
  }
  expect((await coverageByBuild(ctx, '1.0')).builds).toEqual(['1.0'])
  expect((await coverageByBuild(ctx, 'no such build')).builds).toEqual(['2.0', '1.0'])
})

test('causes count until they are decided, or what failed by them passed', async () => {
  await endedRun(ctx, '1.0', ['a'])
  expect(await weights('1.0')).toMatchObject({
    unlooked: 'The failures of 1 run are not told apart: nobody could decide them.',
  })
  await keepCauses(ctx)
  expect(await weights('1.0')).not.toHaveProperty('unlooked')
  expect(await weights('1.0')).toMatchObject({ causes: 'What 1 cause of failures is, nobody has decided.' })
  const [group] = (await triageViewModel(ctx, 2)).groups
  const { signature, runs } = group!
  const causes = [{ signature, seen: null }]
  await decideCauses(ctx, runs[0]!.id, { as: 'environment-fault', note: 'n', causes }, 'Wren')
  expect(await weights('1.0')).toHaveProperty('excused')
  await ctx.db.execute(sql`truncate agents cascade`)
  await endedRun(ctx, '1.0', [])
  const after = await weights('1.0')
  expect(after).not.toHaveProperty('excused')
  expect(after).not.toHaveProperty('causes')
})

test('who signs signs what was read; the document is sealed, and goes out against the sheet only with a word', async () => {
  await endedRun(ctx, '1.0', ['a'])
  const { seen, sheet } = await releaseViewModel(ctx, '1.0')
  expect(sheet!.verdict).toBe('stop')
  const sign = (note: string, of = seen) =>
    signRelease(ctx, { build: '1.0', seen: of, decision: 'goes', note }, 'Wren <b>')
  await expect(sign(' ')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(sign('because', 'f'.repeat(64))).rejects.toMatchObject({ code: 'CHANGED_MEANWHILE' })
  expect((await releaseViewModel(ctx, '1.0')).signed).toEqual([])
  const id = await sign('because')
  const [signed] = (await releaseViewModel(ctx, '1.0')).signed
  expect(signed).toMatchObject({ id, decision: 'goes', note: 'because', by: 'Wren <b>' })
  const text = await (await serveRelease(ctx, id)).text()
  expect(text).toContain('Wren &lt;b&gt;')
  const sha256 = (of: string | Uint8Array) => createHash('sha256').update(of).digest('hex')
  const bytes = (base64: string) => Buffer.from(base64, 'base64')
  expect(verdictOn(text, sha256, bytes)).toMatchObject({ sound: true, hash: signed!.sha256 })
  expect(verdictOn(text.replace('because', 'maybe'), sha256, bytes).sound).toBe(false)
  await expect(serveRelease(ctx, id + 1)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a list is looked at before it is taken; one that is wrong changes nothing', async () => {
  const list = 'id,title\nR1,Fares of all crossings\nR4,Piers\n'
  expect(await takeRequirements(ctx, { list, look: true }, 'Wren')).toEqual({
    added: ['R4'],
    changed: ['R1'],
    removed: ['R', 'R2', 'R3'],
    all: 2,
    wouldLose: ['B', 'C'],
  })
  await expect(takeRequirements(ctx, { list: 'id\nR1', look: false }, 'Wren')).rejects.toMatchObject({
    message: 'Row 1: there is no column “title”.',
  })
  expect(await (await serveRequirements(ctx, 'csv')).text()).toContain('R3,Tides,,could')
  await takeRequirements(ctx, { list, look: false }, 'Wren')
  const sheets = await readXlsx(Buffer.from(await (await serveRequirements(ctx, 'xlsx')).arrayBuffer()))
  expect(JSON.stringify(sheets)).toContain('Fares of all crossings')
})

test('two who bring a list at the same moment leave one of the two', async () => {
  const lists = ['A', 'B'].map((letter) => `id,title\n${letter}1,One\n${letter}2,Two\nX,Both\n`)
  await Promise.all(lists.map((list) => takeRequirements(ctx, { list, look: false }, 'Wren')))
  const left = await (await serveRequirements(ctx, 'csv')).text()
  expect([...left.matchAll(/^[AB]/gm)].map(([letter]) => letter)).toHaveLength(2)
})

test('what is in quarantine counts for nothing, and is said', async () => {
  const until = new Date(Date.now() + 3_600_000)
  await putQuarantine(ctx.db, { caseKey: 'a', until, because: 'the pier is rebuilt', setBy: 'Wren' })
  await endedRun(ctx, '1.0', ['a'])
  const { requirements } = await releaseViewModel(ctx, '1.0')
  expect(requirements.find(({ key }) => key === 'R1')!.coverage).toBe('not-run')
  expect(await weights('1.0')).toMatchObject({
    quarantined: '1 case is in quarantine: what they find counts for nothing.',
  })
})

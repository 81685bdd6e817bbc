import type { AdoptedChecks } from '@/core/view-models'
import { definitionRow } from '@/db/definitions'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { restoreVersion, saveDefinition } from '../definitions'
import { startRun } from '../runs'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { adopt, proposeAdoption } from '.'

const CASE = `case: fares
title: Fares
data: fares.csv
steps:
  - use: pay
    with: { amount: "12.00" }
  - check: { of: { testId: total }, text: { equals: "\${row.total}" } }
  - check: { of: { testId: port }, text: { matches: "^S" } }
`
const ROUTINE = `routine: pay
title: Pay
parameters: { amount: "1.00" }
steps:
  - check: { of: { testId: paid }, text: { equals: "\${amount}" } } # as it was paid
`
const TABLE = 'port,total\nSkerrow,86.40\nTolva,92.00\n'
let ctx: TestContext
/** By environment and row. */
const attempts = new Map<string, string>()
const FOUND: Record<string, [path: string, actual: string][]> = {
  'wide 1': [['main.0.0', '13.00']],
  'wide 2': [
    ['main.1', '99.00'],
    ['main.2', 'Tolva'],
  ],
  'narrow 1': [['main.0.0', '13.00']],
  'narrow 2': [['main.1', 'total']], // the name of the column, too
}

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {})
  const save = (kind: 'data' | 'routine' | 'case' | 'suite', key: string, text: string) =>
    saveDefinition(ctx, kind, key, { source: text, basedOn: 0 }, 'Wren')
  await save('data', 'fares.csv', TABLE)
  await save('routine', 'pay', ROUTINE)
  await save('case', 'fares', CASE)
  await save('suite', 'one', 'suite: one\ntitle: One\nentries:\n  - case: fares\n')
  const agent = await addAgent(ctx, 'tolva-01', 4)
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide', 'narrow'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  for (let i = 0; i < 4; i++) {
    const work = (await claimWork(ctx, agent))!
    const name = `${work.environment.key} ${work.row?.port === 'Skerrow' ? 1 : 2}`
    attempts.set(name, work.attemptId)
    const hold = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
    const found = FOUND[name]!.flatMap(([path, actual]) =>
      // what is around a failed check fails with it
      [path, ...(path.includes('0.0') ? ['main.0'] : [])].map((at) => ({ path: at, actual })),
    )
    const failure = (actual: string) => ({
      kind: 'check' as const,
      message: 'The text is not what was expected',
      expected: actual === '13.00' ? '12.00' : 'else',
      actual,
    })
    const events = found.map(({ path, actual }, at) => ({
      no: at + 1,
      atMs: at,
      type: 'step-ended' as const,
      path,
      outcome: 'failed' as const,
      ms: 1,
      failure: failure(actual),
    }))
    await ingestEvents(ctx, hold, events)
    await finishAttempt(ctx, hold, {
      outcome: 'failed',
      ms: 5,
      failure: { ...failure(found[0]!.actual), path: found[0]!.path },
    })
  }
})
afterAll(() => ctx.end())

const ask = (name: string, path: string, which: AdoptedChecks = 'one') => ({
  attemptId: attempts.get(name)!,
  path,
  which,
})
const source = async (kind: 'case' | 'routine' | 'data', key: string) =>
  (await definitionRow(ctx.db, kind, key))!.source

test('what would change is told with its file, and nothing is saved', async () => {
  const { files, refused } = await proposeAdoption(ctx, ask('wide 1', 'main.0.0'))
  expect(files).toMatchObject([
    {
      kind: 'case',
      key: 'fares',
      after: CASE.replace('"12.00"', '"13.00"'),
      changes: [{ environment: 'wide', was: '12.00', becomes: '13.00' }],
    },
  ])
  expect(refused).toEqual([])
  expect(await source('case', 'fares')).toBe(CASE)
})

test('all alike of a run are one change, all of it are several; what two found differently is refused once', async () => {
  const alike = await proposeAdoption(ctx, ask('wide 1', 'main.0.0', 'alike'))
  expect(alike.files.map(({ changes }) => changes.length)).toEqual([2])
  const all = await proposeAdoption(ctx, ask('wide 1', 'main.0.0', 'run'))
  expect(all.files.map(({ key }) => key).sort()).toEqual(['fares', 'fares.csv'])
  expect(all.files.find(({ key }) => key === 'fares.csv')!.after).toMatch(/Tolva,(99\.00|total)\n/)
  expect(all.refused.map(({ why }) => why).sort()).toEqual([
    'a pattern stands for many texts, and cannot be told from one',
    expect.stringMatching(/^“(99\.00|total)” was found there as well/),
  ])
})

test('all of a cause are one change: what failed at the same for the same, and nothing of other causes', async () => {
  const cause = await proposeAdoption(ctx, ask('wide 1', 'main.0.0', 'cause'))
  expect(cause.files.map(({ key, changes }) => [key, changes.length])).toEqual([['fares', 2]])
  expect(cause.refused).toEqual([])
})

test('it is saved as the next version, and the version before brings it back', async () => {
  const asked = ask('wide 2', 'main.1')
  const { files } = await proposeAdoption(ctx, asked)
  const [saved] = await adopt(ctx, asked, files, 'Priya')
  expect(await source('data', 'fares.csv')).toBe('port,total\nSkerrow,86.40\nTolva,99.00\n')
  await restoreVersion(ctx, 'data', 'fares.csv', saved!.before, 'Priya')
  expect(await source('data', 'fares.csv')).toBe(TABLE)
})

test('a file that somebody saved meanwhile is not written over; a check that is not there is told', async () => {
  const asked = ask('wide 1', 'main.0.0')
  const { files } = await proposeAdoption(ctx, asked)
  const { version } = (await definitionRow(ctx.db, 'case', 'fares'))!
  const other = `# Kept by Tomas.\n${CASE}`
  await saveDefinition(ctx, 'case', 'fares', { source: other, basedOn: version }, 'Tomas')
  await expect(adopt(ctx, asked, files, 'Priya')).rejects.toMatchObject({
    code: 'CHANGED_MEANWHILE',
  })
  expect(await source('case', 'fares')).toBe(other)
  await expect(proposeAdoption(ctx, ask('wide 1', 'main.7'))).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

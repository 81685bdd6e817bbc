import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { jest } from '@jest/globals'
import pg from 'pg'
import { simpleGit, type SimpleGit } from 'simple-git'
import { addRepository, listRepositories, rowsOfRepository } from '@/db/definitions'
import { putApplication } from '@/db/workspace'
import { addRepository as addAndRead, loadLibrary, readRepository, repositoryBody } from '.'
import { simpleCase, simpleSuite, testContext, type TestContext } from '../testing/context'

let ctx: TestContext
let folder: string
let git: SimpleGit
let id: number
beforeAll(async () => {
  ctx = await testContext()
  await putApplication(ctx.db, { key: 'booking', title: 'Booking', address: 'http://booking.test' })
  folder = await mkdtemp(join(tmpdir(), 'oak-cases-'))
  process.env.OAK_REPOSITORY_ROOTS = tmpdir()
  git = simpleGit(folder)
  await git.init(['--initial-branch=main'])
  await git.addConfig('user.name', 'Tomas')
  await git.addConfig('user.email', 'tomas@fennel-sound.invalid')
  id = await addRepository(ctx.db, { name: 'cases', location: folder, branch: 'main' })
})
afterAll(async () => {
  await ctx.end()
  await rm(folder, { recursive: true, force: true })
})

async function commit(files: Record<string, string | null>): Promise<void> {
  for (const [name, text] of Object.entries(files)) {
    await mkdir(join(folder, name, '..'), { recursive: true })
    if (text === null) await rm(join(folder, name))
    else await writeFile(join(folder, name), text)
  }
  await git.add('.')
  await git.commit('change')
}

test('reads cases, suites, routines and tables; unchanged files are not written again', async () => {
  await commit({
    'booking/a.case.yaml': simpleCase('a', 'data: t.csv\n'),
    'b.case.yaml': simpleCase('b'),
    's.suite.yaml': simpleSuite('s', ['a', 'b']),
    'booking/t.csv': 'n\n1\n2\n',
    'r.routine.yaml': 'routine: r\ntitle: R\nsteps:\n  - open: booking:/\n',
    'notes.txt': 'not ours',
  })
  expect(await readRepository(ctx, id)).toMatchObject({ read: 5, changed: 5, removed: 0, problems: [] })
  expect(await readRepository(ctx, id)).toMatchObject({ read: 5, changed: 0, removed: 0 })
  const library = await loadLibrary(ctx)
  expect(library.table('t.csv')?.rows).toEqual([{ n: '1' }, { n: '2' }])
  expect([...library.routines.keys()]).toEqual(['r'])
})

test('a broken file is listed with its place, keeps its last good version, and does not stop the others', async () => {
  await commit({
    'b.case.yaml': 'case: b\ntitle: B\nsteps:\n  - tap: { on: { text: Go } }\n',
    'c.case.yaml': simpleCase('c'),
  })
  const { problems, changed } = await readRepository(ctx, id)
  expect(problems).toEqual([
    { file: 'b.case.yaml', line: 4, column: 10, field: 'steps.0.tap', message: '"tap" is not known here' },
  ])
  expect(changed).toBe(1)
  const library = await loadLibrary(ctx)
  expect([library.case('b')?.title, library.case('c')?.title]).toEqual(['B', 'C'])
  expect((await listRepositories(ctx.db))[0]!.problems).toHaveLength(1)
  await commit({ 'b.case.yaml': simpleCase('b') })
})

test('what files say of each other that is not so is told', async () => {
  await commit({
    'd.case.yaml': 'case: d\ntitle: D\nentry: gone\ndata: gone.csv\nsteps:\n  - use: missing\n',
    'e.suite.yaml': simpleSuite('e', ['nowhere']),
    'twice.case.yaml': simpleCase('c'),
    'bad.csv': 'a,b\n1\n',
  })
  const { problems } = await readRepository(ctx, id)
  expect(problems.map(({ file, line, message }) => `${file}:${line} ${message}`).sort()).toEqual([
    'bad.csv:2 1 cells where the header has 2',
    'd.case.yaml:1 no routine brings about the entry state “gone”',
    'd.case.yaml:1 the table “gone.csv” is not there',
    'd.case.yaml:6 routine “missing” is not there',
    'e.suite.yaml:1 case “nowhere” is not there',
    'twice.case.yaml:1 case “c” is in c.case.yaml already; this file is left out',
  ])
})

test('a removed file is removed', async () => {
  await commit({ 'd.case.yaml': null, 'e.suite.yaml': null, 'twice.case.yaml': null, 'bad.csv': null })
  expect(await readRepository(ctx, id)).toMatchObject({ removed: 2, problems: [] })
  expect((await loadLibrary(ctx)).case('d')).toBeUndefined()
})

test('a repository is added by name and read at once; one that cannot be read is not kept', async () => {
  await expect(
    addAndRead(ctx, { name: 'nowhere', location: '/no/such/place', branch: 'main' }, 'Tomas'),
  ).rejects.toMatchObject({ code: 'REPOSITORY_UNREADABLE' })
  expect((await listRepositories(ctx.db)).map(({ name }) => name)).toEqual(['cases'])
  await expect(
    addAndRead(ctx, { name: 'cases', location: folder, branch: 'main' }, 'Tomas'),
  ).rejects.toMatchObject({ code: 'NAME_TAKEN' })
  // A key belongs to one place: what another repository has already is left out, and told.
  const again = await addAndRead(ctx, { name: 'again', location: folder, branch: 'main' }, 'Tomas')
  expect(again).toMatchObject({ read: 0, changed: 0 })
  expect(again.problems.map(({ message }) => message)).toContain(
    'case “a” comes from another repository already; this file is left out',
  )
})
test.each([
  ['--upload-pack=x', false],
  ['ext::sh -c x', false],
  ['relative/path', false],
  ['/srv/cases', true],
  ['https://git.invalid/cases.git', true],
])('a location of %s', (location, good) =>
  expect(repositoryBody({ name: 'n', location, branch: 'main' })).toBe(good),
)

test('a repository that is not there is said, and what was read is kept', async () => {
  const gone = await addRepository(ctx.db, {
    name: 'gone',
    location: join(folder, 'no-such'),
    branch: 'main',
  })
  await expect(readRepository(ctx, gone)).rejects.toMatchObject({
    code: 'REPOSITORY_UNREADABLE',
    message: expect.stringContaining('What was read before is kept') as string,
  })
  await expect(readRepository(ctx, 999)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect((await loadLibrary(ctx)).cases.size).toBe(3)
})

test('many files that moved cost no statement each', async () => {
  const cases = Array.from({ length: 60 }, (_, i) => `moved-${i}`)
  const at = (folderName: string) =>
    Object.fromEntries(cases.map((key) => [`${folderName}/${key}.case.yaml`, simpleCase(key)]))
  const statements = async (): Promise<number> => {
    const query = jest.spyOn(pg.Client.prototype, 'query')
    await readRepository(ctx, id)
    const asked = query.mock.calls.length
    query.mockRestore()
    return asked
  }
  await commit(at('quay'))
  await readRepository(ctx, id)
  const nothingNew = await statements()
  await commit({
    ...at('harbour'),
    ...Object.fromEntries(Object.keys(at('quay')).map((name) => [name, null])),
  })
  expect((await statements()) - nothingNew).toBeLessThan(10)
  const rows = await rowsOfRepository(ctx.db, id)
  expect(rows.filter(({ file }) => file.startsWith('harbour/moved-'))).toHaveLength(60)
})

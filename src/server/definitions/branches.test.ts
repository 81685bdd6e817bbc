/** A repository over weeks: commits to the same branch again and again, branches that are merged or go apart,
 * another branch or folder to read from. */
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { simpleGit, type SimpleGit } from 'simple-git'
import { definitionRow, listRepositories, repositoryById } from '@/db/definitions'
import { putApplication } from '@/db/workspace'
import { simpleCase, testContext, type TestContext } from '../testing/context'
import { benchViewModel, libraryLines, repositoryDetailViewModel } from '../view-models'
import { addRepository, changeRepository, commitEdits, loadLibrary, readRepository, saveDefinition } from '.'

let ctx: TestContext
let folder: string
let git: SimpleGit
let id: number
const wren = { name: 'Wren', username: 'wren' }
const BRANCH = 'edits'

beforeAll(async () => {
  ctx = await testContext()
  await putApplication(ctx.db, { key: 'booking', title: 'Booking', address: 'http://booking.test' })
  process.env.OAK_REPOSITORY_ROOTS = tmpdir()
})
afterAll(() => ctx.end())

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oak-branches-'))
  git = simpleGit(folder)
  await git.init(['--initial-branch=main'])
  await git.addConfig('user.name', 'Tomas')
  await git.addConfig('user.email', 'tomas@fennel-sound.invalid')
  await commit({ 'a.case.yaml': simpleCase('a'), 'b.case.yaml': simpleCase('b') })
  await addRepository(ctx, { name: 'cases', location: folder, branch: 'main' }, 'Tomas')
  id = (await listRepositories(ctx.db))[0]!.id
})
afterEach(async () => {
  await ctx.db.execute('delete from repositories')
  await rm(folder, { recursive: true, force: true })
})

async function commit(files: Record<string, string>): Promise<void> {
  for (const [name, text] of Object.entries(files)) {
    await mkdir(join(folder, dirname(name)), { recursive: true })
    await writeFile(join(folder, name), text)
  }
  await git.add('.')
  await git.commit('change')
}

/** Saves over the newest version. */
async function edit(key: string, tag: string): Promise<string> {
  const source = simpleCase(key, `tags: [${tag}]\n`)
  const { version } = (await definitionRow(ctx.db, 'case', key))!
  await saveDefinition(ctx, 'case', key, { source, basedOn: version }, 'Wren')
  return source
}
const send = (message: string) => commitEdits(ctx, id, { branch: BRANCH, message }, wren)
const onBranch = (file: string) => git.show([`${BRANCH}:${file}`])
const editOf = async (key: string) =>
  (await repositoryDetailViewModel(ctx, id, true)).edits.find((one) => one.key === key)

test('a second commit to the branch of the first is none of its conflicts', async () => {
  await edit('a', 'first')
  await send('First')
  expect(await editOf('a')).toMatchObject({ on: BRANCH })
  const second = await edit('a', 'second')
  expect(await editOf('a')).toMatchObject({ on: null })
  expect((await send('Second')).files).toEqual(['a.case.yaml'])
  expect(await onBranch('a.case.yaml')).toBe(second)
  expect((await git.log([BRANCH])).all.map(({ message }) => message)).toEqual(['Second', 'First', 'change'])
})

test('a file that somebody else changed on that branch is told, and not overwritten', async () => {
  await edit('a', 'first')
  await send('First')
  await git.checkout(BRANCH)
  await commit({ 'a.case.yaml': simpleCase('a', 'tags: [somebody]\n') })
  await git.checkout('main')
  await edit('a', 'second')
  await expect(send('Second')).rejects.toMatchObject({ code: 'REPOSITORY_CONFLICT' })
  expect(await onBranch('a.case.yaml')).toContain('somebody')
})

test('a branch that was merged begins anew from where the repository is now', async () => {
  await edit('a', 'first')
  await send('First')
  await git.merge([BRANCH])
  await readRepository(ctx, id)
  await commit({ 'a.case.yaml': simpleCase('a', 'tags: [later]\n') })
  await readRepository(ctx, id)
  const second = await edit('a', 'second')
  await send('Second')
  expect(await onBranch('a.case.yaml')).toBe(second)
})

test('a branch that waits to be merged takes in what came to the repository meanwhile', async () => {
  await edit('a', 'first')
  await send('First')
  await commit({ 'b.case.yaml': simpleCase('b', 'tags: [meanwhile]\n') })
  await readRepository(ctx, id)
  const b = await edit('b', 'mine')
  await send('Second')
  expect(await onBranch('b.case.yaml')).toBe(b)
  expect(await onBranch('a.case.yaml')).toContain('first')
})

test('two branches that do not go together any more: told, with the file, and nothing is committed', async () => {
  await edit('a', 'first')
  await send('First')
  await git.checkout(BRANCH)
  await commit({ 'notes.txt': 'ours' })
  await git.checkout('main')
  await commit({ 'notes.txt': 'theirs' })
  await edit('b', 'mine')
  await expect(send('Second')).rejects.toMatchObject({
    code: 'REPOSITORY_CONFLICT',
    message: expect.stringContaining('notes.txt') as string,
  })
  expect(await onBranch('b.case.yaml')).toBe(simpleCase('b'))
})

test('another branch and another folder are read at once', async () => {
  await git.checkoutLocalBranch('next')
  await commit({ 'quay/c.case.yaml': simpleCase('c') })
  await git.checkout('main')
  expect(await changeRepository(ctx, id, { branch: 'next', folder: 'quay' }, 'Tomas')).toMatchObject({
    read: 1,
    removed: 2,
  })
  expect([...(await loadLibrary(ctx)).cases.keys()]).toEqual(['c'])
  expect(await repositoryById(ctx.db, id)).toMatchObject({ branch: 'next', folder: 'quay' })
})

test.each([
  ['a branch that is not there', { branch: 'gone' }, 'it has no branch “gone”'],
  ['a folder that is not there', { folder: 'no/such' }, 'has no folder “no/such”'],
])('%s is told, and nothing changes', async (_, wanted, why) => {
  await expect(changeRepository(ctx, id, wanted, 'Tomas')).rejects.toMatchObject({
    code: 'REPOSITORY_UNREADABLE',
    message: expect.stringContaining(why) as string,
  })
  expect(await repositoryById(ctx.db, id)).toMatchObject({ branch: 'main', folder: '' })
  expect((await loadLibrary(ctx)).cases.size).toBe(2)
})

test('while edits wait to be committed, it is read from where they belong', async () => {
  await edit('a', 'mine')
  await expect(changeRepository(ctx, id, { folder: 'quay' }, 'Tomas')).rejects.toMatchObject({
    code: 'EDITS_WAIT',
  })
  await expect(changeRepository(ctx, id, { everyMinutes: 5 }, 'Tomas')).resolves.toBeUndefined()
})

test('a file that broke in the repository is told on its bench and in the library', async () => {
  await commit({ 'a.case.yaml': 'case: a\ntitle: A\nsteps:\n  - clack: { on: { text: Go } }\n' })
  await readRepository(ctx, id)
  expect(await benchViewModel(ctx, 'case', 'a')).toMatchObject({
    source: simpleCase('a'),
    broken: [{ line: 4, message: '"clack" is not known here' }],
  })
  const broken = (await libraryLines(ctx)).filter((line) => line.broken).map(({ key }) => key)
  expect(broken).toEqual(['a'])
  expect((await benchViewModel(ctx, 'case', 'b')).broken).toEqual([])
})

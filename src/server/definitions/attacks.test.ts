/** What somebody who may push to a repository, or save and commit here, may try: nothing outside of the
 * working copy is read or written. */
import { execFileSync } from 'node:child_process'
import { chmod, mkdtemp, readFile, rm, symlink, writeFile, mkdir } from 'node:fs/promises'
import { existsSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { addRepository, repositoryById } from '@/db/definitions'
import { simpleCase, testContext, type TestContext } from '../testing/context'
import { addRepository as addAndRead, commitEdits, moveToRepository, readRepository, saveDefinition } from '.'
import { folderOf } from './checkout'
import { isAllowedLocal } from './git'
import { pathProblem, readInside, writeInside } from './inside'
import { hostOf } from './location'

let ctx: TestContext
let folder: string
let outside: string
let id: number
const wren = { name: 'Wren', username: 'wren' }
const git = (...args: string[]) => execFileSync('git', args, { cwd: folder, stdio: 'pipe' })

beforeAll(async () => {
  ctx = await testContext()
  folder = await mkdtemp(join(tmpdir(), 'oak-hostile-'))
  outside = await mkdtemp(join(tmpdir(), 'oak-outside-'))
  process.env.OAK_REPOSITORY_ROOTS = tmpdir()
  await writeFile(join(outside, 'secret.case.yaml'), simpleCase('secret'))
  git('init', '--quiet', '--initial-branch=main')
  git('config', 'user.name', 'Tomas')
  git('config', 'user.email', 'tomas@fennel-sound.invalid')
  await writeFile(join(folder, 'a.case.yaml'), simpleCase('a'))
  await symlink(outside, join(folder, 'linked'))
  await symlink(join(outside, 'secret.case.yaml'), join(folder, 'b.case.yaml'))
  git('add', '.')
  git('commit', '--quiet', '-m', 'links')
  id = await addRepository(ctx.db, { name: 'cases', location: folder, branch: 'main' })
})
afterAll(async () => {
  await ctx.end()
  await rm(folder, { recursive: true, force: true })
  await rm(outside, { recursive: true, force: true })
})

test('a repository of another user is read, also where that one may not enter our own folder', async () => {
  const theirs = await mkdtemp(join(tmpdir(), 'oak-theirs-'))
  execFileSync('git', ['clone', '--quiet', folder, theirs])
  if (process.getuid?.() === 0) execFileSync('chown', ['-R', 'nobody', theirs])
  const other = await testContext()
  await chmod(other.home, 0o700)
  const one = await addRepository(other.db, { name: 'theirs', location: theirs, branch: 'main' })
  expect((await readRepository(other, one)).found.map(({ key }) => key)).toEqual(['a'])
  await other.end()
  await rm(theirs, { recursive: true, force: true })
})

test('links in a pushed repository come out as files: nothing is read over them', async () => {
  const report = await readRepository(ctx, id)
  expect(report.found.map(({ key }) => key)).toEqual(['a'])
  expect(report.problems.filter(({ file }) => file !== 'a.case.yaml')).toMatchObject([
    { file: 'b.case.yaml' },
  ])
  const copy = folderOf(ctx, (await repositoryById(ctx.db, id))!)
  expect(await readFile(join(copy, 'linked'), 'utf8')).toBe(outside)
})

test('an edit committed into a folder that is a link there is refused, and nothing is written outside', async () => {
  await saveDefinition(ctx, 'case', 'mine', { source: simpleCase('mine'), basedOn: 0 }, 'Wren')
  await moveToRepository(ctx, 'case', 'mine', { repositoryId: id, folder: 'linked' }, 'Wren')
  await expect(commitEdits(ctx, id, { branch: 'main', message: 'mine' }, wren)).rejects.toThrow()
  expect(existsSync(join(outside, 'mine.case.yaml'))).toBe(false)
})

test.each(['.git', '.GIT', 'booking/.git/hooks', 'git~1', '.git.', '.g\u200cit'])(
  'a folder %j is git’s own, and refused',
  async (inside) => {
    expect(pathProblem(`${inside}/x.case.yaml`)).toContain('belongs to git')
    await saveDefinition(ctx, 'case', 'other', { source: simpleCase('other'), basedOn: 0 }, 'Wren').catch(
      () => {},
    )
    await expect(
      moveToRepository(ctx, 'case', 'other', { repositoryId: id, folder: inside }, 'Wren'),
    ).rejects.toMatchObject({ code: 'PATH_REFUSED' })
  },
)

test.each(['../x', 'a/../../x', '/etc/passwd', 'a//b', './a', 'a\\b', 'a\0b', 'C:x', ''])(
  'a path %j leads nowhere',
  async (path) => {
    expect(pathProblem(path)).toBeDefined()
    await expect(writeInside(outside, path, 'x')).rejects.toMatchObject({ code: 'PATH_REFUSED' })
    await expect(readInside(outside, path)).rejects.toMatchObject({ code: 'PATH_REFUSED' })
  },
)

test('a link on the way, or at the end of it, is not followed, also when it is made by somebody on this machine', async () => {
  const root = await mkdtemp(join(tmpdir(), 'oak-root-'))
  await symlink(outside, join(root, 'way'))
  await symlink(join(outside, 'new.txt'), join(root, 'end'))
  for (const path of ['way/new.txt', 'end'])
    await expect(writeInside(root, path, 'x')).rejects.toMatchObject({ code: 'PATH_REFUSED' })
  expect(existsSync(join(outside, 'new.txt'))).toBe(false)
  await rm(root, { recursive: true })
})

test('hooks of a working copy, and of a template, are not run', async () => {
  const copy = folderOf(ctx, (await repositoryById(ctx.db, id))!)
  const hooks = join(copy, '.git', 'hooks')
  await mkdir(hooks, { recursive: true })
  for (const hook of ['post-checkout', 'pre-commit', 'post-commit', 'pre-push', 'reference-transaction']) {
    await writeFile(join(hooks, hook), `#!/bin/sh\ntouch ${join(outside, 'ran')}\n`)
    await chmod(join(hooks, hook), 0o755)
  }
  await saveDefinition(ctx, 'case', 'third', { source: simpleCase('third'), basedOn: 0 }, 'Wren')
  await moveToRepository(ctx, 'case', 'third', { repositoryId: id, folder: 'desk' }, 'Wren')
  const commit = await commitEdits(
    ctx,
    id,
    { branch: 'edits', message: 'third', keys: [{ kind: 'case', key: 'third' }] },
    wren,
  )
  expect(commit.files).toEqual(['desk/third.case.yaml'])
  expect(existsSync(join(outside, 'ran'))).toBe(false)
  expect(git('log', '--format=%s', 'edits', '-1').toString().trim()).toBe('third')
})

test.each([
  ['/srv/cases', ['/srv'], true],
  ['/srv', ['/srv'], true],
  ['/srv/../etc', ['/srv'], false],
  ['/srvx', ['/srv'], false],
  ['/etc', [], false],
])('a folder of this machine, %s where %j are named: %s', (location, roots, allowed) =>
  expect(isAllowedLocal(location, roots)).toBe(allowed),
)

test('a folder that nobody named is not read', async () => {
  process.env.OAK_REPOSITORY_ROOTS = '/nowhere'
  await expect(
    addAndRead(ctx, { name: 'root', location: '/etc', branch: 'main' }, 'Tomas'),
  ).rejects.toMatchObject({
    code: 'REPOSITORY_UNREADABLE',
    message: expect.stringContaining('OAK_REPOSITORY_ROOTS') as string,
  })
  process.env.OAK_REPOSITORY_ROOTS = tmpdir()
})

test('a repository at the cloud’s own address is not asked', async () => {
  await expect(
    addAndRead(ctx, { name: 'cloud', location: 'http://169.254.169.254/cases.git', branch: 'main' }, 'Tomas'),
  ).rejects.toMatchObject({
    message: expect.stringContaining('inside the machine’s own network'.replace('’', "'")) as string,
  })
})

test.each([
  ['git@git.invalid:harbour/cases.git', { host: 'git.invalid', port: 22 }],
  ['ssh://git@git.invalid:2222/cases', { host: 'git.invalid', port: 2222 }],
  ['https://git.invalid/cases', { host: 'git.invalid', port: 443 }],
  ['/srv/cases', undefined],
])('%s is at %j', (location, place) => expect(hostOf(location)).toEqual(place))

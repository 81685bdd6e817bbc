import { createHmac } from 'node:crypto'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { simpleGit, type SimpleGit } from 'simple-git'
import { addRepository, definitionRow } from '@/db/definitions'
import { putApplication } from '@/db/workspace'
import { exportWorkspace, importFiles, readZip } from '../exchange'
import { simpleCase, simpleSuite, testContext, withOneConnection, type TestContext } from '../testing/context'
import {
  checkDefinition,
  commitEdits,
  listVersions,
  loadLibrary,
  moveToRepository,
  readRepository,
  removeDefinition,
  restoreVersion,
  saveDefinition,
  resolveConflict,
  takeWebhook,
} from '.'
import { repositoryDetailViewModel } from '../view-models'

let ctx: TestContext
let folder: string
let git: SimpleGit
let id: number
const wren = { name: 'Wren', username: 'wren' }

beforeAll(async () => {
  ctx = await testContext()
  await putApplication(ctx.db, { key: 'booking', title: 'Booking', address: 'http://booking.test' })
  folder = await mkdtemp(join(tmpdir(), 'oak-edits-'))
  process.env.OAK_REPOSITORY_ROOTS = tmpdir()
  git = simpleGit(folder)
  await git.init(['--initial-branch=main'])
  await git.addConfig('user.name', 'Tomas')
  await git.addConfig('user.email', 'tomas@fennel-sound.invalid')
  await commit('a.case.yaml', simpleCase('a'))
  id = await addRepository(ctx.db, {
    name: 'cases',
    location: folder,
    branch: 'main',
    webhookSecret: `whsec_${Buffer.from('low tide').toString('base64')}`,
  })
  await readRepository(ctx, id)
})
afterAll(async () => {
  await ctx.end()
  await rm(folder, { recursive: true, force: true })
})
async function commit(file: string, text: string): Promise<void> {
  await writeFile(join(folder, file), text)
  await git.add('.')
  await git.commit('change')
}
const save = (key: string, source: string, basedOn: number) =>
  saveDefinition(ctx, 'case', key, { source, basedOn }, 'Wren')

test('every saved text is a version with who and what; an older one comes back as the newest', async () => {
  expect(await save('new', simpleCase('new'), 0)).toMatchObject({ version: 1, changes: ['new'] })
  expect(await save('new', simpleCase('new', 'tags: [smoke]\n'), 1)).toMatchObject({
    version: 2,
    changes: ['tags is now smoke'],
  })
  expect(await restoreVersion(ctx, 'case', 'new', 1, 'Tomas')).toMatchObject({ version: 3 })
  expect((await listVersions(ctx, 'case', 'new')).map(({ number, who, how }) => [number, who, how])).toEqual([
    [3, 'Tomas', 'restored'],
    [2, 'Wren', 'edited'],
    [1, 'Wren', 'made'],
  ])
  expect((await loadLibrary(ctx)).case('new')!.tags).toEqual([])
})
test('who comes second is told, sees the other text, and nothing is overwritten', async () => {
  await save('new', simpleCase('new', 'tags: [first]\n'), 3)
  await expect(save('new', simpleCase('new', 'tags: [second]\n'), 3)).rejects.toMatchObject({
    code: 'CHANGED_MEANWHILE',
    detail: { version: 4, who: 'Wren', source: simpleCase('new', 'tags: [first]\n') },
  })
  expect((await loadLibrary(ctx)).case('new')!.tags).toEqual(['first'])
})
test('two who save at the same moment: one wins, one is told', async () => {
  const both = await Promise.allSettled([
    save('new', simpleCase('new', 'tags: [x]\n'), 4),
    save('new', simpleCase('new', 'tags: [y]\n'), 4),
  ])
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
})
test.each([
  ['a broken text', 'case: new\ntitle: x\nsteps:\n  - tap: x\n', 5, 'DEFINITION_BROKEN'],
  ['another key', simpleCase('other'), 5, 'KEY_CHANGED'],
  ['new, but there already', simpleCase('new'), 0, 'NAME_TAKEN'],
])('refused, and nothing changes: %s', async (_, source, basedOn, code) => {
  const before = await definitionRow(ctx.db, 'case', 'new')
  await expect(save('new', source, basedOn)).rejects.toMatchObject({ code })
  expect(await definitionRow(ctx.db, 'case', 'new')).toEqual(before)
})
test('a text is looked at without being kept: what it says of others that is not so is a warning', async () => {
  const { problems, warnings } = await checkDefinition(
    ctx,
    'case',
    'new',
    simpleCase('new', 'entry: nowhere\n'),
  )
  expect([problems, warnings.map(({ message }) => message)]).toEqual([
    [],
    ['no routine brings about the entry state “nowhere”'],
  ])
})

describe('edits of what a repository keeps', () => {
  const edited = simpleCase('a', 'tags: [edited]\n')
  test('go back as a commit on a branch, with message and author; merged there, they are settled here', async () => {
    await save('a', edited, 1)
    expect(await commitEdits(ctx, id, { branch: 'edits', message: 'A tag' }, wren)).toMatchObject({
      branch: 'edits',
      files: ['a.case.yaml'],
    })
    expect(await git.raw(['log', '-1', '--format=%an <%ae> %s', 'edits'])).toContain(
      'Wren <wren@oak-rotation.invalid> A tag',
    )
    await expect(commitEdits(ctx, id, { branch: 'edits', message: 'Again' }, wren)).rejects.toMatchObject({
      code: 'NOTHING_TO_COMMIT',
    })
    expect(await readRepository(ctx, id)).toMatchObject({ changed: 0 })
    expect(await definitionRow(ctx.db, 'case', 'a')).toMatchObject({ edited: true, source: edited })
    await git.merge(['edits'])
    await readRepository(ctx, id)
    expect(await definitionRow(ctx.db, 'case', 'a')).toMatchObject({
      edited: false,
      source: edited,
      theirs: null,
    })
  })
  test('when it changed there too, both are kept, the commit is refused, and somebody decides', async () => {
    await save('a', simpleCase('a', 'tags: [mine]\n'), 2)
    await commit('a.case.yaml', simpleCase('a', 'tags: [theirs]\n'))
    expect((await readRepository(ctx, id)).found).toMatchObject([{ what: 'conflict', key: 'a' }])
    expect(await definitionRow(ctx.db, 'case', 'a')).toMatchObject({
      source: simpleCase('a', 'tags: [mine]\n'),
      theirs: simpleCase('a', 'tags: [theirs]\n'),
    })
    await expect(commitEdits(ctx, id, { branch: 'edits2', message: 'Mine' }, wren)).rejects.toMatchObject({
      code: 'REPOSITORY_CONFLICT',
      detail: { files: ['a.case.yaml'] },
    })
    expect(await git.raw(['branch', '--list', 'edits2'])).toBe('')
    await resolveConflict(ctx, 'case', 'a', 'theirs', 'Wren')
    expect(await definitionRow(ctx.db, 'case', 'a')).toMatchObject({
      source: simpleCase('a', 'tags: [theirs]\n'),
      theirs: null,
      edited: false,
    })
  })
  test('a branch that is checked out there is refused with what to do, and the edits are kept', async () => {
    await save('a', edited, 4)
    await expect(commitEdits(ctx, id, { branch: 'main', message: 'x' }, wren)).rejects.toMatchObject({
      code: 'REPOSITORY_REFUSED',
      message: expect.stringContaining('choose another branch') as string,
    })
    expect(await definitionRow(ctx.db, 'case', 'a')).toMatchObject({ edited: true, source: edited })
  })
  test('what is kept here can move there, and is not removed here any more', async () => {
    await moveToRepository(ctx, 'case', 'new', { repositoryId: id, folder: 'gate' }, 'Wren')
    expect(await definitionRow(ctx.db, 'case', 'new')).toMatchObject({
      file: 'gate/new.case.yaml',
      repositoryId: id,
      edited: true,
    })
    const { version } = (await definitionRow(ctx.db, 'case', 'new'))!
    await expect(removeDefinition(ctx, 'case', 'new', version, 'Wren')).rejects.toMatchObject({
      code: 'IN_REPOSITORY',
    })
    expect((await commitEdits(ctx, id, { branch: 'edits3', message: 'Moved' }, wren)).files.sort()).toEqual([
      'a.case.yaml',
      'gate/new.case.yaml',
    ])
  })
  test('a webhook is taken when it is signed, and only then', async () => {
    const now = Date.now()
    const timestamp = String(Math.floor(now / 1000))
    const signature = `v1,${createHmac('sha256', 'low tide').update(`m1.${timestamp}.{}`).digest('base64')}`
    const headers = { id: 'm1', timestamp, signature }
    const take = (body: string, at = now) => takeWebhook(ctx, id, { body, headers, token: null }, at)
    await take('{}')
    await expect(take('{"x":1}')).rejects.toMatchObject({ code: 'SIGNATURE_WRONG' })
    await expect(take('{}', now + 600_000)).rejects.toMatchObject({ code: 'SIGNATURE_WRONG' })
  })
  test('or when it has the token in its address, whatever it says; another token is refused', async () => {
    const headers = { id: null, timestamp: null, signature: null }
    const { webhookToken } = await repositoryDetailViewModel(ctx, id, true)
    const take = (token: string) => takeWebhook(ctx, id, { body: 'ref=main', headers, token }, 0)
    await take(webhookToken!)
    for (const wrong of ['', 'low tide', `${webhookToken}x`])
      await expect(take(wrong)).rejects.toMatchObject({ code: 'SIGNATURE_WRONG' })
    expect(await repositoryDetailViewModel(ctx, id, false)).toMatchObject({ webhookToken: null })
  })
})

test('the workspace goes out as files and comes in again unchanged; what is new or broken is told before anything happens', async () => {
  const files = await readZip(ctx, await exportWorkspace(ctx))
  expect(files.map(({ file }) => file).sort()).toEqual(['cases/a.case.yaml', 'cases/gate/new.case.yaml'])
  const more = [
    ...files,
    { file: 'x/s.suite.yaml', source: simpleSuite('s', ['a']) },
    { file: 'bad.case.yaml', source: 'case: bad' },
    { file: 'package.json', source: '{}' },
  ]
  expect(await importFiles(ctx, more, false, 'Wren')).toMatchObject({
    fresh: ['s'],
    changed: [],
    same: 2,
    applied: false,
    problems: expect.arrayContaining([expect.objectContaining({ file: 'bad.case.yaml' })]) as object,
  })
  expect((await loadLibrary(ctx)).suite('s')).toBeUndefined()
  await importFiles(ctx, more, true, 'Wren')
  expect((await loadLibrary(ctx)).suite('s')?.entries).toHaveLength(1)
  await expect(readZip(ctx, Buffer.from('no zip'))).rejects.toThrow('no zip archive')
})

test('a save that comes too late asks no second connection while the row is locked', async () => {
  await save('late', simpleCase('late'), 0)
  await save('late', simpleCase('late', 'tags: [smoke]\n'), 1)
  await withOneConnection(ctx, async (one) => {
    const source = simpleCase('late', 'tags: [slow]\n')
    await expect(saveDefinition(one, 'case', 'late', { source, basedOn: 1 }, 'Tomas')).rejects.toMatchObject({
      code: 'CHANGED_MEANWHILE',
      detail: { version: 2, who: 'Wren' },
    })
    await expect(removeDefinition(one, 'case', 'late', 1, 'Tomas')).rejects.toMatchObject({
      code: 'CHANGED_MEANWHILE',
    })
  })
})

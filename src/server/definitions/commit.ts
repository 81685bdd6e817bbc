/** Edits made here go back to their repository: as one commit on a branch, with a message and an author. */
import type { SimpleGit } from 'simple-git'
import type { DefinitionKind } from '@/core/model'
import {
  changeDefinition,
  editedOf,
  lockDefinition,
  putDefinition,
  repositoryById,
  type DefinitionRow,
  type RepositoryRow,
} from '@/db/definitions'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { BRANCH, FOLDER } from './forms'
import { saveDefinition } from './save'
import { checkOut, hashOf } from './checkout'
import { makeFolder, withGit } from './git'
import { folderInside, pathProblem, readInside, writeInside } from './inside'
import { reasonOf } from './reasons'

export type CommitReport = { commit: string; branch: string; files: string[] }

export const commitBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['branch', 'message'],
  properties: {
    branch: { type: 'string', maxLength: 100, pattern: BRANCH },
    message: { type: 'string', minLength: 1, maxLength: 2000 },
    keys: {
      type: 'array',
      maxItems: 5000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['kind', 'key'],
        properties: {
          kind: { enum: ['case', 'routine', 'suite', 'data'] },
          key: { type: 'string', maxLength: 200 },
        },
      },
    },
  },
})
export type CommitRequest = BodyOf<typeof commitBody>

/** Commits what was edited here and pushes the branch. Nothing there is overwritten: a file that changed in
 * the repository since it was read stops the commit, and is told.
 * @throws {Problem} NOT_FOUND, NOTHING_TO_COMMIT, REPOSITORY_CONFLICT with the files, REPOSITORY_UNREADABLE,
 * REPOSITORY_REFUSED; then nothing was pushed */
export async function commitEdits(
  ctx: Context,
  id: number,
  request: CommitRequest,
  who: { name: string; username: string },
): Promise<CommitReport> {
  const repository = await repositoryById(ctx.db, id)
  if (!repository) throw new Problem('NOT_FOUND')
  const wanted = request.keys && new Set(request.keys.map(({ kind, key }) => `${kind} ${key}`))
  const rows = (await editedOf(ctx.db, id)).filter(({ kind, key }) => !wanted || wanted.has(`${kind} ${key}`))
  if (rows.length === 0) throw new Problem('NOTHING_TO_COMMIT')
  const { folder } = await checkOut(ctx, repository)
  const commit = await withGit(repository, folder, async (git) => {
    // of our own working copy; the author of the commit is the person
    await git.addConfig('user.name', 'Oak Rotation')
    await git.addConfig('user.email', 'rotation@oak-rotation.invalid')
    if (request.branch !== repository.branch) await startFromBranch(git, repository, request.branch)
    await requireUnchanged(await folderInside(folder, repository.folder), rows, request.branch)
    return writeAndPush(git, folder, repository, rows, request, who)
  })
  await ctx.db.transaction(async (tx) => {
    for (const row of rows) {
      const now = await lockDefinition(tx, row.kind, row.key)
      // Saved again meanwhile: that newer text still has to go.
      // On another branch it waits for that to be merged: a reading that finds the same text takes it for
      // settled.
      const hash = hashOf(row.source)
      if (now)
        await changeDefinition(tx, row.kind, row.key, {
          committed: { ...now.committed, [request.branch]: hash },
          ...(request.branch === repository.branch && {
            hash,
            edited: now.version !== row.version,
            theirs: null,
          }),
        })
    }
    await note(tx, who.name, 'repository.commit', String(id), { branch: request.branch, files: rows.length })
    await notify(tx, 'definitions')
  })
  return { commit, branch: request.branch, files: rows.map(({ file }) => file) }
}

/** The branch may be there already, from earlier commits. Then this one goes on from it, with what came to
 * the repository's own branch since; or from that, where it has all of the branch (as after it was merged).
 * @throws {Problem} REPOSITORY_CONFLICT when the two do not go together */
async function startFromBranch(git: SimpleGit, repository: RepositoryRow, branch: string): Promise<void> {
  const there = await git.fetch('origin', branch).then(
    () => true,
    () => false,
  )
  if (!there) return
  const commitOf = async (name: string) => (await git.revparse([name])).trim()
  const [own, theirs] = [await commitOf('HEAD'), await commitOf('FETCH_HEAD')]
  const common = (await git.raw(['merge-base', own, theirs])).trim()
  if (common === theirs) return
  await git.checkout(['--force', '--detach', theirs])
  if (common === own) return
  const title = `Take in ${repository.branch}`
  const merging = git.raw(['merge', '--quiet', '--no-edit', '-m', title, own])
  const fault = await merging.then(
    () => undefined,
    (error: unknown) => error,
  )
  const unmerged = (await git.diff(['--name-only', '--diff-filter=U'])).trim()
  if (fault === undefined && unmerged === '') return
  await git.raw(['reset', '--hard', '--quiet', theirs])
  throw new Problem(
    'REPOSITORY_CONFLICT',
    `The branch “${branch}” does not go together with “${repository.branch}” any more: ` +
      `${unmerged.split('\n').join(', ') || reasonOf(fault)}. Nothing was committed. Choose another ` +
      'branch, or merge them in the repository first.',
    undefined,
    { cause: fault },
  )
}

/** What is there has to be what was read, or what we committed to that branch before. */
async function requireUnchanged(folder: string, rows: DefinitionRow[], branch: string): Promise<void> {
  const conflicts: string[] = []
  for (const row of rows) {
    const there = await readInside(folder, row.file)
    const known = new Set([row.hash, row.committed[branch], hashOf(row.source)])
    const same = there === undefined ? row.hash === '' : known.has(hashOf(there))
    if (!same || row.theirs !== null) conflicts.push(row.file)
  }
  if (conflicts.length > 0) {
    throw new Problem(
      'REPOSITORY_CONFLICT',
      `${conflicts.join(', ')} changed in the repository since ` +
        `${conflicts.length === 1 ? 'it was' : 'they were'} read. Nothing was committed. Read the ` +
        `repository again, open ${conflicts.length === 1 ? 'it' : 'them'}, and decide between both texts.`,
      { files: conflicts },
    )
  }
}

async function writeAndPush(
  git: SimpleGit,
  folder: string,
  repository: RepositoryRow,
  rows: DefinitionRow[],
  { branch, message }: CommitRequest,
  who: { name: string; username: string },
): Promise<string> {
  try {
    for (const row of rows) {
      const path = [repository.folder, row.file].filter(Boolean).join('/')
      await writeInside(folder, path, row.source)
      await git.add(['--', path])
    }
    await makeFolder(folder, repository.location) // the written files must belong to the user that runs git
    if ((await git.diff(['--cached', '--name-only'])).trim() === '')
      throw new Problem(
        'NOTHING_TO_COMMIT',
        `These edits are on the branch “${branch}” already; they are settled here when it is merged ` +
          `into ${repository.branch} and read.`,
      )
    const author = `${who.name} <${who.username}@oak-rotation.invalid>`
    await git.commit(message, undefined, { '--author': author })
    await git.raw(['push', 'origin', `HEAD:refs/heads/${branch}`])
    return (await git.revparse(['HEAD'])).trim()
  } catch (error) {
    if (error instanceof Problem) throw error
    const why = reasonOf(error)
    const hint = /denyCurrentBranch|checked out/.test((error as Error).message)
      ? ' Somebody has this branch open there: choose another branch.'
      : ''
    throw new Problem(
      'REPOSITORY_REFUSED',
      `“${repository.name}” did not take the commit: ${why}.${hint} Your edits are kept here.`,
      undefined,
      { cause: error },
    )
  }
}

/** Settles a conflict: the text from here, which then may be committed over the other, or the repository's,
 * as a new version. Both stay among the versions.
 * @throws {Problem} NOT_FOUND, DEFINITION_BROKEN */
export async function resolveConflict(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  keep: 'ours' | 'theirs',
  who: string,
): Promise<void> {
  const row = await ctx.db.transaction(async (tx) => {
    const locked = await lockDefinition(tx, kind, key)
    if (!locked || locked.theirs === null)
      throw new Problem('NOT_FOUND', 'There is nothing to decide between any more.')
    await changeDefinition(tx, kind, key, {
      theirs: null,
      hash: hashOf(locked.theirs),
      edited: keep === 'ours',
    })
    await notify(tx, 'definitions')
    return { version: locked.version, theirs: locked.theirs }
  })
  if (keep === 'theirs')
    await saveDefinition(ctx, kind, key, { source: row.theirs, basedOn: row.version }, who)
}
export const resolveBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['keep'],
  properties: { keep: { enum: ['ours', 'theirs'] } },
})

export const moveBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['repositoryId', 'folder'],
  properties: { repositoryId: { type: 'integer', minimum: 1 }, folder: FOLDER },
})
export type MoveRequest = BodyOf<typeof moveBody>

/** Gives a definition of the workspace to a repository: it waits there to be committed. @throws {Problem}
 * NOT_FOUND, IN_REPOSITORY */
export async function moveToRepository(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  request: MoveRequest,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const [row, repository] = [
      await lockDefinition(tx, kind, key),
      await repositoryById(tx, request.repositoryId),
    ]
    if (!row || !repository) throw new Problem('NOT_FOUND')
    if (row.repositoryId !== null)
      throw new Problem('IN_REPOSITORY', `“${row.title}” is in a repository already.`)
    const name = row.file.slice(row.file.lastIndexOf('/') + 1)
    const path = [request.folder, name].filter(Boolean).join('/')
    const problem = pathProblem(path)
    if (problem) throw new Problem('PATH_REFUSED', `“${path}” is not used: ${problem}.`)
    await putDefinition(tx, { ...row, repositoryId: repository.id, file: path, hash: '', edited: true })
    await note(tx, who, `${kind}.move`, key, { repository: repository.name })
    await notify(tx, 'definitions')
  })
}

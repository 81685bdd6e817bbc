/** A working copy of each repository, ours alone: the repository itself is only fetched from and pushed
 * to. */
import { constants, existsSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { open, readdir, rm, writeFile } from 'node:fs/promises'
import { basename, join, relative } from 'node:path'
import type { SimpleGit } from 'simple-git'
import { OutgoingRefused } from '@/node/outgoing'
import { kindOfFile, tablesNamedIn } from '@/core/model/files'
import type { RepositoryRow } from '@/db/definitions'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { isAllowedLocal, isLocal, makeFolder, withGit } from './git'
import { requireReachable } from './location'
import { reasonOf } from './reasons'

export type ReadFile = { file: string; source: string; hash: string }
/** In a working copy that was made so that no link of a repository is ever made: an older one is made
 * anew. */
const MADE = join('.git', 'oak-made')
/** Files opened at once: many are quicker than one by one, all at once run out of handles. */
const OPEN_AT_ONCE = 64

export const folderOf = (ctx: Context, repository: RepositoryRow) =>
  join(ctx.home, 'repositories', String(repository.id))

/** Brings the working copy to the branch's newest commit. @throws {Problem} REPOSITORY_UNREADABLE */
export async function checkOut(
  ctx: Context,
  repository: RepositoryRow,
): Promise<{ folder: string; commit: string }> {
  const folder = folderOf(ctx, repository)
  try {
    if (isLocal(repository.location) && !isAllowedLocal(repository.location))
      throw new OutgoingRefused('folders of this machine are read only where OAK_REPOSITORY_ROOTS names them')
    await requireReachable(repository.location)
    if (!existsSync(join(folder, MADE))) await rm(folder, { recursive: true, force: true })
    await makeFolder(folder, repository.location)
    const commit = await withGit(repository, folder, (git) => fetchBranch(git, folder, repository))
    return { folder, commit }
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem(
      'REPOSITORY_UNREADABLE',
      `“${repository.name}” cannot be read: ${reasonOf(error)}. What was read before is kept.`,
      undefined,
      { cause: error },
    )
  }
}

/** @returns the commit that is checked out */
async function fetchBranch(
  git: SimpleGit,
  folder: string,
  { location, branch }: RepositoryRow,
): Promise<string> {
  if (!existsSync(join(folder, '.git'))) {
    await git.init(['--quiet', '--initial-branch', 'oak'])
    await git.raw(['config', 'core.symlinks', 'false'])
    await git.remote(['add', 'origin', location])
    await writeFile(join(folder, MADE), 'links come out as files\n')
  }
  await git.remote(['set-url', 'origin', location])
  await git.raw(['fetch', '--quiet', '--no-tags', '--no-recurse-submodules', 'origin', branch])
  await git.checkout(['--force', '--detach', 'FETCH_HEAD'])
  return (await git.revparse(['HEAD'])).trim()
}

export const hashOf = (source: string) => createHash('sha256').update(source).digest('hex')

/** A repository holds so much for us; more is not cases. */
const FILES_MOST = 20_000
const BYTES_MOST = 200_000_000
const FILE_MOST_BYTES = 8_000_000

/** Every file that may be ours, with its text; JSON files only where a case names them as its table. Links
 * are passed over.
 * @throws {Problem} REPOSITORY_UNREADABLE when there is more than one can have written */
export async function readFiles(folder: string): Promise<ReadFile[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true })
  const names = entries
    .filter((entry) => entry.isFile() && !`${entry.parentPath}/`.includes('/.git/') && kindOfFile(entry.name))
    .map((entry) => relative(folder, join(entry.parentPath, entry.name)))
    .sort()
  if (names.length > FILES_MOST)
    throw new Problem(
      'REPOSITORY_UNREADABLE',
      `There are ${names.length} files of ours in it; at most ${FILES_MOST} are read.`,
    )
  const files: ReadFile[] = []
  let left = BYTES_MOST
  for (let i = 0; i < names.length; i += OPEN_AT_ONCE) {
    for (const found of await Promise.all(
      names.slice(i, i + OPEN_AT_ONCE).map((file) => readOne(folder, file)),
    )) {
      left -= found.source.length
      files.push(found)
    }
    if (left < 0)
      throw new Problem(
        'REPOSITORY_UNREADABLE',
        `The files of ours in it have more than ${BYTES_MOST / 1_000_000} MB.`,
      )
  }
  const named = new Set(files.flatMap(({ file, source }) => (isYaml(file) ? tablesNamedIn(source) : [])))
  return files.filter(({ file }) => !file.endsWith('.json') || named.has(basename(file)))
}

async function readOne(folder: string, file: string): Promise<ReadFile> {
  const handle = await open(join(folder, file), constants.O_RDONLY | constants.O_NOFOLLOW)
  try {
    const { size } = await handle.stat()
    if (size > FILE_MOST_BYTES)
      throw new Problem(
        'REPOSITORY_UNREADABLE',
        `${file} has ${Math.round(size / 1_000_000)} MB; at most ${FILE_MOST_BYTES / 1_000_000} are read.`,
      )
    const source = await handle.readFile('utf8')
    return { file, source, hash: hashOf(source) }
  } finally {
    await handle.close()
  }
}

const isYaml = (file: string) => file.endsWith('.yaml') || file.endsWith('.yml')

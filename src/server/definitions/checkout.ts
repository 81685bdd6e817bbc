/** A working copy of each repository, ours alone: the repository itself is only fetched from and pushed to. */
import { existsSync } from 'node:fs'
import { createHash } from 'node:crypto'
import { mkdir, readdir, readFile } from 'node:fs/promises'
import { basename, join, relative } from 'node:path'
import { simpleGit } from 'simple-git'
import { kindOfFile } from '@/core/model/files'
import type { RepositoryRow } from '@/db/definitions'
import type { Context } from '../context'
import { Problem } from '../http/problems'

export type ReadFile = { file: string; source: string; hash: string }
/** Files opened at once: many are quicker than one by one, all at once run out of handles. */
const OPEN_AT_ONCE = 64

export const folderOf = (ctx: Context, repository: RepositoryRow) => join(ctx.home, 'repositories', String(repository.id))

/** Brings the working copy to the branch's newest commit. @throws {Problem} REPOSITORY_UNREADABLE */
export async function checkOut(ctx: Context, repository: RepositoryRow): Promise<{ folder: string; commit: string }> {
  const folder = folderOf(ctx, repository)
  try {
    if (!existsSync(join(folder, '.git'))) {
      await mkdir(folder, { recursive: true })
      await simpleGit().clone(repository.location, folder, ['--branch', repository.branch, '--single-branch'])
    } else {
      const git = simpleGit(folder)
      await git.remote(['set-url', 'origin', repository.location])
      await git.fetch('origin', repository.branch)
      await git.checkout(['--force', '--detach', 'FETCH_HEAD'])
    }
    return { folder, commit: (await simpleGit(folder).revparse(['HEAD'])).trim() }
  } catch (error) {
    throw new Problem('REPOSITORY_UNREADABLE', `“${repository.name}” cannot be read: ${lastLine(error)}. What was read before is kept.`, undefined, { cause: error })
  }
}

export const hashOf = (source: string) => createHash('sha256').update(source).digest('hex')

/** Every file that may be ours, with its text; JSON files only where a case names them as its table. */
export async function readFiles(folder: string): Promise<ReadFile[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true })
  const names = entries.filter((entry) => entry.isFile() && !`${entry.parentPath}/`.includes('/.git/') && kindOfFile(entry.name)).map((entry) => relative(folder, join(entry.parentPath, entry.name))).sort()
  const files: ReadFile[] = []
  for (let i = 0; i < names.length; i += OPEN_AT_ONCE) {
    files.push(...(await Promise.all(names.slice(i, i + OPEN_AT_ONCE).map(async (file) => {
      const source = await readFile(join(folder, file), 'utf8')
      return { file, source, hash: hashOf(source) }
    }))))
  }
  const named = new Set(files.flatMap(({ file, source }) => (file.endsWith('.yaml') || file.endsWith('.yml') ? [...source.matchAll(/\bdata:\s*["']?([^\s"',}]+\.json)\b/g)].map(([, name]) => name) : [])))
  return files.filter(({ file }) => !file.endsWith('.json') || named.has(basename(file)))
}

export const lastLine = (error: unknown) => (error as Error).message.trim().split('\n').at(-1)?.replace(/^fatal: /, '') ?? 'unknown'

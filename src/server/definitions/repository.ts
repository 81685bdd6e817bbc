/** Reads cases, routines, suites and data from a git repository into the database. */
import { createHash } from 'node:crypto'
import { mkdir, readdir, readFile } from 'node:fs/promises'
import { existsSync } from 'node:fs'
import { basename, join, relative } from 'node:path'
import { simpleGit } from 'simple-git'
import type { Definition, FileProblem } from '@/core/model'
import { kindOfFile, parseDefinition } from '@/core/model/files'
import { parseTable, type Table } from '@/core/formats'
import { dropDefinitions, filesOf, noteRead, putDefinition, replaceDataSets, repositoryById, type RepositoryRow } from '@/db/definitions'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { brokenReferences } from './references'

export type ReadReport = { commit: string; read: number; changed: number; removed: number; problems: FileProblem[] }
type ReadFile = { file: string; source: string; hash: string }
type Sound = ReadFile & { document: Definition }

/** Reads the branch's newest commit. A broken file is listed with its place and keeps its last good version; the others are read.
 * @throws {Problem} NOT_FOUND, REPOSITORY_UNREADABLE */
export async function readRepository(ctx: Context, id: number): Promise<ReadReport> {
  const repository = await repositoryById(ctx.db, id)
  if (!repository) throw new Problem('NOT_FOUND')
  const { folder, commit } = await checkOut(ctx, repository)
  const files = await readFiles(join(folder, repository.folder))
  const { sound, tables, problems } = parseAll(files)

  return ctx.db.transaction(async (tx) => {
    const known = await filesOf(tx, id)
    const hashes = new Map(known.map(({ file, hash }) => [file, hash]))
    const changed = sound.filter((file) => hashes.get(file.file) !== file.hash)
    const present = new Set(files.map((file) => file.file))
    const removed = known.map(({ file }) => file).filter((file) => !present.has(file))
    problems.push(...brokenReferences(sound, known.filter(({ file }) => present.has(file)), new Set(tables.map((table) => table.file))))
    await dropDefinitions(tx, id, removed)
    for (const { document, ...file } of changed) await putDefinition(tx, { ...file, document, repositoryId: id })
    await replaceDataSets(tx, id, tables)
    await noteRead(tx, id, commit, problems)
    await notify(tx, 'definitions')
    return { commit, read: sound.length, changed: changed.length, removed: removed.length, problems }
  })
}

/** A working copy of our own: a repository by path and one by address are read in the same way, and neither is touched. */
async function checkOut(ctx: Context, repository: RepositoryRow): Promise<{ folder: string; commit: string }> {
  const folder = join(ctx.home, 'repositories', String(repository.id))
  try {
    if (!existsSync(join(folder, '.git'))) {
      await mkdir(folder, { recursive: true })
      await simpleGit().clone(repository.location, folder, ['--branch', repository.branch, '--single-branch'])
    } else {
      const git = simpleGit(folder)
      await git.remote(['set-url', 'origin', repository.location])
      await git.fetch('origin', repository.branch)
      await git.reset(['--hard', 'FETCH_HEAD'])
    }
    return { folder, commit: (await simpleGit(folder).revparse(['HEAD'])).trim() }
  } catch (error) {
    throw new Problem('REPOSITORY_UNREADABLE', `“${repository.name}” cannot be read: ${lastLine(error)}. What was read before is kept.`, undefined, { cause: error })
  }
}

async function readFiles(folder: string): Promise<ReadFile[]> {
  const names = (await readdir(folder, { recursive: true, withFileTypes: true }))
    .filter((entry) => entry.isFile() && !entry.parentPath.includes('/.git') && (kindOfFile(entry.name) || entry.name.endsWith('.csv')))
    .map((entry) => relative(folder, join(entry.parentPath, entry.name)))
    .sort()
  return Promise.all(names.map(async (file) => {
    const source = await readFile(join(folder, file), 'utf8')
    return { file, source, hash: createHash('sha256').update(source).digest('hex') }
  }))
}

function parseAll(files: ReadFile[]) {
  const sound: Sound[] = []
  const tables: (Table & { file: string })[] = []
  const problems: FileProblem[] = []
  const seen = new Map<string, string>()
  for (const file of files) {
    if (file.file.endsWith('.csv')) {
      const table = parseTable(file.source)
      if ('message' in table) problems.push({ file: file.file, line: table.line, column: 1, field: '', message: table.message })
      else tables.push({ ...table, file: basename(file.file) })
      continue
    }
    const parsed = parseDefinition(file.file, file.source)
    problems.push(...parsed.problems)
    if (!parsed.definition) continue
    const name = `${parsed.definition.kind} “${parsed.definition.key}”`
    const first = seen.get(name)
    if (first) problems.push({ file: file.file, line: 1, column: 1, field: parsed.definition.kind, message: `${name} is in ${first} already; this file is left out` })
    else {
      seen.set(name, file.file)
      sound.push({ ...file, document: parsed.definition })
    }
  }
  return { sound, tables, problems }
}

const lastLine = (error: unknown) => (error as Error).message.trim().split('\n').at(-1)?.replace(/^fatal: /, '') ?? 'unknown'

/** Reads cases, routines, suites and data from a git repository into the database. */
import { stat } from 'node:fs/promises'
import { brokenReferences, libraryOf, type Definition, type FileProblem } from '@/core/model'
import { describeChanges, type Parsed } from '@/core/model/files'
import {
  allDocuments,
  changeDefinitions,
  changeRepository,
  dropDefinitions,
  keysElsewhere,
  noteRead,
  putDefinitions,
  repositoryById,
  rowsOfRepository,
  type DefinitionRow,
  type RepositoryRow,
  type DefinitionValues,
} from '@/db/definitions'
import { notify } from '@/db/notify'
import type { FoundFile } from '@/db/schema'
import { addVersions, nextNumbers, type NewVersion } from '@/db/versions'
import type { Tx } from '@/db/client'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { checkOut, readFiles, type ReadFile } from './checkout'
import { folderInside } from './inside'
import { setUpOf } from './set-up'

export type ReadReport = {
  commit: string
  read: number
  changed: number
  removed: number
  found: FoundFile[]
  problems: FileProblem[]
}
/** From where it is read. */
export type Whereabouts = Partial<Pick<RepositoryRow, 'location' | 'branch' | 'folder' | 'credentials'>>
type Sound = ReadFile & { document: Definition }

/** Reads the branch's newest commit. A broken file is listed with its place and keeps its last good version;
 * the others are read.
 * What was edited here and not committed stays as it is; when it changed in the repository too, that is a
 * conflict, and both are kept.
 * @param next from where it is read from now on, which is kept if it can be
 * @throws {Problem} NOT_FOUND, REPOSITORY_UNREADABLE */
export async function readRepository(ctx: Context, id: number, next: Whereabouts = {}): Promise<ReadReport> {
  const kept = await repositoryById(ctx.db, id)
  if (!kept) throw new Problem('NOT_FOUND')
  const repository = { ...kept, ...next }
  const { folder, commit } = await checkOut(ctx, repository)
  const files = await readFiles(await folderThere(folder, repository))
  // no transaction is open while files are parsed
  const { sound, problems } = await parseFiles(ctx, files, await rowsOfRepository(ctx.db, id))
  return ctx.db.transaction(async (tx) => {
    if (Object.keys(next).length > 0) await changeRepository(tx, id, next)
    const known = await rowsOfRepository(tx, id)
    const own = await withoutStrangers(tx, id, sound, problems)
    const who = `${repository.name} at ${commit.slice(0, 7)}`
    const change = compare(own, known, files)
    await write(tx, id, who, change)
    const there = { ...libraryOf(await allDocuments(tx)), setUp: await setUpOf(tx) }
    for (const problem of brokenReferences(own, there)) problems.push(problem)
    await noteRead(tx, id, commit, problems, change.found)
    await notify(tx, 'definitions')
    return {
      commit,
      read: own.length,
      changed: change.put.length,
      removed: change.drop.length,
      found: change.found,
      problems,
    }
  })
}

/** @throws {Problem} REPOSITORY_UNREADABLE when the branch has no such folder */
async function folderThere(root: string, { name, folder, branch }: RepositoryRow): Promise<string> {
  const path = await folderInside(root, folder)
  const isThere = await stat(path).then(
    (found) => found.isDirectory(),
    () => false,
  )
  if (isThere) return path
  throw new Problem(
    'REPOSITORY_UNREADABLE',
    `“${name}” cannot be read: its branch “${branch}” has no folder “${folder}”. What was read ` +
      'before is kept.',
  )
}

/** Files a thread is given at once. */
const PARSED_AT_ONCE = 200
const PARSE_MS = 60_000

/** Parses what changed; a file with the hash it was read with last time is what it was then. */
async function parseFiles(
  ctx: Context,
  files: ReadFile[],
  known: DefinitionRow[],
): Promise<{ sound: Sound[]; problems: FileProblem[] }> {
  const before = new Map(
    known.filter(({ edited }) => !edited).map((row) => [`${row.file} ${row.hash}`, row.document]),
  )
  const sound: Sound[] = []
  const problems: FileProblem[] = []
  const seen = new Map<string, string>()
  const isKnown = ({ file, hash }: ReadFile) => before.has(`${file} ${hash}`)
  const fresh = files.filter((file) => !isKnown(file))
  const parsedFresh = new Map<ReadFile, Parsed>()
  for (let i = 0; i < fresh.length; i += PARSED_AT_ONCE) {
    const part = fresh.slice(i, i + PARSED_AT_ONCE)
    const parsed = await ctx.work.run(
      'parseAll',
      part.map(({ file, source }) => ({ file, source })),
      { limitMs: PARSE_MS },
    )
    part.forEach((file, j) => parsedFresh.set(file, parsed[j]!))
  }
  for (const file of files) {
    const unchanged = before.get(`${file.file} ${file.hash}`)
    const parsed = unchanged ? { definition: unchanged, problems: [] } : parsedFresh.get(file)!
    for (const problem of parsed.problems) problems.push(problem)
    if (!parsed.definition) continue
    const name = `${parsed.definition.kind} “${parsed.definition.key}”`
    const first = seen.get(name)
    if (first)
      problems.push({
        file: file.file,
        line: 1,
        column: 1,
        field: parsed.definition.kind,
        message: `${name} is in ${first} already; this file is left out`,
      })
    else {
      seen.set(name, file.file)
      sound.push({ ...file, document: parsed.definition })
    }
  }
  return { sound, problems }
}

/** A key belongs to one place: what another repository, or this workspace, has already is left out and
 * told. */
async function withoutStrangers(
  tx: Tx,
  id: number,
  sound: Sound[],
  problems: FileProblem[],
): Promise<Sound[]> {
  const elsewhere = new Map(
    (await keysElsewhere(tx, id)).map((row) => [`${row.kind} ${row.key}`, row.repositoryId]),
  )
  return sound.filter(({ file, document: { kind, key } }) => {
    const place = elsewhere.get(`${kind} ${key}`)
    if (place === undefined) return true
    const where = place === null ? 'is kept in this workspace' : 'comes from another repository'
    problems.push({
      file,
      line: 1,
      column: 1,
      field: kind,
      message: `${kind} “${key}” ${where} already; this file is left out`,
    })
    return false
  })
}

type Change = {
  put: (Sound & { row?: DefinitionRow; how: FoundFile['what'] })[]
  conflicts: { row: DefinitionRow; theirs: string }[]
  /** Edited here, and now the same there. */ merged: { row: DefinitionRow; file: string; hash: string }[]
  moves: { row: DefinitionRow; file: string }[]
  drop: DefinitionRow[]
  found: FoundFile[]
}

/** What a reading has to tell. History goes by key, so a file that moved is the same case. */
function compare(sound: Sound[], known: DefinitionRow[], files: ReadFile[]): Change {
  const change: Change = { put: [], conflicts: [], merged: [], moves: [], drop: [], found: [] }
  const rows = new Map(known.map((row) => [`${row.kind} ${row.key}`, row]))
  const tell = (
    what: FoundFile['what'],
    file: string,
    { kind, key, title }: Definition | DefinitionRow,
    changes: string[],
  ) => change.found.push({ what, kind, key, title, file, changes })
  for (const one of sound) {
    const { document, file, hash } = one
    const row = rows.get(`${document.kind} ${document.key}`)
    rows.delete(`${document.kind} ${document.key}`)
    if (!row) {
      change.put.push({ ...one, how: 'new' })
      tell('new', file, document, [])
    } else if (row.edited && row.source === one.source) {
      change.merged.push({ row, file, hash })
    } else if (row.hash !== hash && row.edited) {
      change.conflicts.push({ row, theirs: one.source })
      tell('conflict', file, document, describeChanges(row.document, document))
    } else if (row.hash !== hash) {
      change.put.push({ ...one, row, how: 'changed' })
      tell('changed', file, document, [
        ...(row.file === file ? [] : [`moved from ${row.file}`]),
        ...describeChanges(row.document, document),
      ])
    } else if (row.file !== file) {
      change.moves.push({ row, file })
      tell('moved', file, document, [`moved from ${row.file}`])
    }
  }
  // A file that is there but broken keeps its last good version; one that never was in the repository waits
  // to be committed.
  const present = new Set(files.map(({ file }) => file))
  change.drop = [...rows.values()].filter((row) => !present.has(row.file) && row.hash !== '')
  for (const row of change.drop)
    tell('removed', row.file, row, row.edited ? ['it was edited here; its versions are kept'] : [])
  return change
}

async function write(
  tx: Tx,
  repositoryId: number,
  who: string,
  { put, conflicts, merged, moves, drop }: Change,
): Promise<void> {
  const numberOf = await nextNumbers(
    tx,
    put.map(({ document }) => document),
  )
  const values = put.map(({ file, hash, source, document }): DefinitionValues => ({
    repositoryId,
    file,
    hash,
    source,
    document,
    version: numberOf(document),
    edited: false,
    theirs: null,
  }))
  const versions = put.map(({ document, source, row }): NewVersion => ({
    kind: document.kind,
    key: document.key,
    number: numberOf(document),
    who,
    how: row ? 'read' : 'made',
    changes: row ? describeChanges(row.document, document) : ['read for the first time'],
    source,
  }))
  await putDefinitions(tx, values)
  await addVersions(tx, versions)
  const of = ({ kind, key }: DefinitionRow) => ({ kind, key })
  await changeDefinitions(tx, [
    ...conflicts.map(({ row, theirs }) => ({ ...of(row), theirs })),
    ...merged.map(({ row, file, hash }) => ({ ...of(row), file, hash, settled: true })),
    ...moves.map(({ row, file }) => ({ ...of(row), file })),
  ])
  await dropDefinitions(tx, drop)
}

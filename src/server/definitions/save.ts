/** Saving, restoring and removing a definition here. Every saved text is a version; nobody writes over what
 * they have not seen. */
import {
  brokenReferences,
  DEFINITION_KINDS,
  type Definition,
  type DefinitionKind,
  type FileProblem,
} from '@/core/model'
import { describeChanges, FILE_LIMIT_CHARS, type Parsed } from '@/core/model/files'
import { dropDefinitions, lockDefinition, putDefinition, type DefinitionRow } from '@/db/definitions'
import type { EditConflict } from '@/core/view-models'
import { note } from '@/db/audit'
import type { Tx } from '@/db/client'
import { notify } from '@/db/notify'
import { addVersions, nextNumbers, versionLines, versionRow, type NewVersion } from '@/db/versions'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { hashOf } from './checkout'
import { FOLDER } from './forms'
import { loadLibrary } from './library'
import { setUpOf } from './set-up'

export type Saved = {
  kind: DefinitionKind
  key: string
  version: number
  changes: string[]
  warnings: FileProblem[]
}

/** `basedOn`: the version the text was made from; 0 for a definition that is new. */
export const saveBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['source', 'basedOn'],
  properties: {
    source: { type: 'string', maxLength: FILE_LIMIT_CHARS },
    basedOn: { type: 'integer', minimum: 0 },
    folder: FOLDER,
  },
})
export type SaveRequest = BodyOf<typeof saveBody>

/** @throws {Problem} NOT_FOUND */
export function readKind(text: string): DefinitionKind {
  const kind = DEFINITION_KINDS.find((one) => one === text)
  if (!kind) throw new Problem('NOT_FOUND')
  return kind
}

export const fileNameOf = (kind: DefinitionKind, key: string) =>
  kind === 'data' ? key : `${key}.${kind}.yaml`

/** A text of the largest size takes a tenth of this time. */
const PARSE_MS = 10_000

/** Parses in a thread. @throws {Problem} BUSY, TOOK_TOO_LONG */
export const parseBeside = (ctx: Pick<Context, 'work'>, file: string, source: string): Promise<Parsed> =>
  ctx.work.run('parse', { file, source }, { limitMs: PARSE_MS })

/** Checks a text without saving it: its problems, and its broken references as warnings. */
export async function checkDefinition(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  source: string,
): Promise<{ definition?: Definition; problems: FileProblem[]; warnings: FileProblem[] }> {
  const file = fileNameOf(kind, key)
  const { definition, problems } = await parseBeside(ctx, file, source)
  if (!definition) return { problems, warnings: [] }
  return { definition, problems, warnings: await warningsOf(ctx, file, definition) }
}

async function warningsOf(ctx: Context, file: string, definition: Definition): Promise<FileProblem[]> {
  const [library, setUp] = await Promise.all([loadLibrary(ctx), setUpOf(ctx.db)])
  return brokenReferences([{ file, document: definition }], { ...library, setUp })
}

/** Saves a text as the next version. @throws {Problem} DEFINITION_BROKEN with the problems, KEY_CHANGED,
 * CHANGED_MEANWHILE with what the other one saved, NAME_TAKEN */
export async function saveDefinition(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  request: SaveRequest,
  who: string,
  how: 'edited' | 'restored' = 'edited',
): Promise<Saved> {
  const definition = await readSource(ctx, kind, key, request.source)
  const saved = await ctx.db.transaction(async (tx): Promise<Omit<Saved, 'warnings'>> => {
    const row = await lockDefinition(tx, kind, key)
    if (row && request.basedOn === 0)
      throw new Problem(
        'NAME_TAKEN',
        `There is a ${kind} “${key}” already; open that one, or choose another key.`,
      )
    if ((row?.version ?? 0) !== request.basedOn) throw await editConflict(tx, kind, key, row)
    if (row?.source === request.source && row.theirs === null)
      return { kind, key, version: row.version, changes: [] }
    const changes = row ? describeChanges(row.document, definition) : ['new']
    const number = (await nextNumbers(tx, [{ kind, key }]))({ kind, key })
    const file = row?.file ?? [request.folder, fileNameOf(kind, key)].filter(Boolean).join('/')
    const same = row !== undefined && row.hash === hashOf(request.source)
    await putDefinition(tx, {
      document: definition,
      source: request.source,
      file,
      repositoryId: row?.repositoryId ?? null,
      hash: row?.hash ?? '',
      version: number,
      edited: typeof row?.repositoryId === 'number' && !same,
      theirs: row?.theirs ?? null,
    })
    await addVersions(tx, [
      {
        kind,
        key,
        number,
        who,
        how: row ? how : 'made',
        changes: changes.length > 0 ? changes : ['only comments or layout'],
        source: request.source,
      },
    ])
    await note(tx, who, `${kind}.save`, key, { version: number })
    await notify(tx, 'definitions')
    return { kind, key, version: number, changes }
  })
  return { ...saved, warnings: await warningsOf(ctx, fileNameOf(kind, key), definition) }
}

async function readSource(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  source: string,
): Promise<Definition> {
  const { definition, problems } = await parseBeside(ctx, fileNameOf(kind, key), source)
  if (!definition) {
    const first = problems[0]!
    throw new Problem(
      'DEFINITION_BROKEN',
      `Line ${first.line}${first.field ? `, ${first.field}` : ''}: ${first.message}. Nothing was ` +
        'saved; your text is kept here.',
      { problems },
    )
  }
  if (definition.key !== key)
    throw new Problem(
      'KEY_CHANGED',
      `The text says “${definition.key}”, and this is “${key}”. History goes by the key, so it stays; ` +
        'copy it to make another one.',
    )
  return definition
}

async function editConflict(
  tx: Tx,
  kind: DefinitionKind,
  key: string,
  row: DefinitionRow | undefined,
): Promise<Problem> {
  if (!row)
    return new Problem(
      'CHANGED_MEANWHILE',
      `“${key}” was removed while you edited it. Your text is kept here; save it as new to bring it back.`,
      { version: 0 },
    )
  const newest = await versionRow(tx, kind, key, row.version)
  const detail: EditConflict = {
    version: row.version,
    who: newest?.who ?? 'somebody',
    at: (newest?.at ?? row.changedAt).toISOString(),
    changes: newest?.changes ?? [],
    source: row.source,
  }
  return new Problem(
    'CHANGED_MEANWHILE',
    `${detail.who} saved version ${detail.version} while you edited. Nothing was overwritten; both ` +
      'texts are kept.',
    detail,
  )
}

/** Makes an earlier text the newest version. @throws {Problem} NOT_FOUND, and as saving does */
export async function restoreVersion(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  number: number,
  who: string,
): Promise<Saved> {
  const [old, newest] = [
    await versionRow(ctx.db, kind, key, number),
    await ctx.db.transaction((tx) => lockDefinition(tx, kind, key)),
  ]
  if (!old) throw new Problem('NOT_FOUND', `“${key}” has no version ${number}.`)
  return saveDefinition(
    ctx,
    kind,
    key,
    { source: old.source, basedOn: newest?.version ?? 0 },
    who,
    'restored',
  )
}

/** Takes a definition away; its versions stay, and bring it back. One of a repository comes back with the
 * next reading unless its file goes too.
 * @throws {Problem} NOT_FOUND, CHANGED_MEANWHILE */
export async function removeDefinition(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  basedOn: number,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const row = await lockDefinition(tx, kind, key)
    if (!row) throw new Problem('NOT_FOUND')
    if (row.version !== basedOn) throw await editConflict(tx, kind, key, row)
    if (row.repositoryId !== null)
      throw new Problem(
        'IN_REPOSITORY',
        `“${row.title}” is in a repository: take the file ${row.file} out there, and read it again.`,
      )
    await dropDefinitions(tx, [row])
    const version: NewVersion = {
      kind,
      key,
      number: (await nextNumbers(tx, [row]))(row),
      who,
      how: 'removed',
      changes: ['removed'],
      source: row.source,
    }
    await addVersions(tx, [version])
    await note(tx, who, `${kind}.remove`, key)
    await notify(tx, 'definitions')
  })
}

const VERSIONS_SHOWN = 200

/** Newest first. */
export async function listVersions(ctx: Context, kind: DefinitionKind, key: string) {
  return (await versionLines(ctx.db, kind, key, VERSIONS_SHOWN)).map(({ at, ...line }) => ({
    ...line,
    at: at.toISOString(),
  }))
}

/** One version with its text, and its changes against another one. @throws {Problem} NOT_FOUND */
export async function showVersion(ctx: Context, kind: DefinitionKind, key: string, number: number) {
  const row = await versionRow(ctx.db, kind, key, number)
  if (!row) throw new Problem('NOT_FOUND', `“${key}” has no version ${number}.`)
  return {
    number: row.number,
    who: row.who,
    how: row.how,
    changes: row.changes,
    source: row.source,
    at: row.at.toISOString(),
  }
}

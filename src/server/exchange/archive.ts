/** The whole workspace as a folder or zip of its files, out and in. */
import { type Definition, type FileProblem } from '@/core/model'
import { describeChanges, FILE_LIMIT_CHARS, kindOfFile, tablesNamedIn } from '@/core/model/files'
import {
  allRows,
  listRepositories,
  putDefinitions,
  type DefinitionRow,
  type DefinitionValues,
} from '@/db/definitions'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { addVersions, nextNumbers, type NewVersion } from '@/db/versions'
import type { Context } from '../context'
import { hashOf } from '../definitions/checkout'
import type { GivenFile } from '../work'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'
import { picturesAsFiles, takePictures } from './pictures'

const FILES_MOST = 20_000
const BYTES_MOST = 100_000_000

/** Reading an archive, and all files of one. */
const [UNZIP_MS, ZIP_MS, PARSE_MS] = [20_000, 60_000, 60_000]

export type ExchangeReport = {
  fresh: string[]
  changed: { key: string; file: string; changes: string[] }[]
  same: number
  problems: FileProblem[]
  applied: boolean
}

export const filesBody = validatorOf<{ files: GivenFile[] }>()({
  type: 'object',
  additionalProperties: false,
  required: ['files'],
  properties: {
    files: {
      type: 'array',
      maxItems: FILES_MOST,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['file', 'source'],
        properties: { file: { type: 'string', maxLength: 400 }, source: { type: 'string' } },
      },
    },
  },
})

/** Every definition as its file; those of a repository stand in a folder of its name. Pictures that targets
 * are looked for by stand in `pictures`. */
export async function exportWorkspace(ctx: Context): Promise<Uint8Array> {
  const [rows, repositories, pictures] = await Promise.all([
    allRows(ctx.db),
    listRepositories(ctx.db),
    picturesAsFiles(ctx),
  ])
  const names = new Map(repositories.map(({ id, name }) => [id, name]))
  const place = ({ repositoryId, file }: DefinitionRow) =>
    `${repositoryId === null ? 'workspace' : (names.get(repositoryId) ?? 'repository')}/${file}`
  return ctx.work.run(
    'zip',
    [...rows.map((row) => ({ file: place(row), source: row.source })), ...pictures],
    { limitMs: ZIP_MS },
  )
}

/** The files of ours in a zip archive. @throws {Problem} ARCHIVE_BROKEN, BUSY, TOOK_TOO_LONG,
 * TOOK_TOO_MUCH */
export async function readZip(ctx: Pick<Context, 'work'>, bytes: Uint8Array): Promise<GivenFile[]> {
  const limits = { files: FILES_MOST, bytes: BYTES_MOST, each: FILE_LIMIT_CHARS * 4 }
  const answer = await ctx.work.run('unzip', { bytes, limits }, { limitMs: UNZIP_MS })
  if ('problem' in answer)
    throw new Problem(
      'ARCHIVE_BROKEN',
      `The archive is not taken in: ${answer.problem}. Nothing was changed.`,
    )
  return answer.files
}

/** Compares files with the workspace, and imports them with `apply`. New definitions are added to this
 * workspace; known ones get a new version where they are kept. Broken files and duplicate keys are reported
 * and left out. */
export async function importFiles(
  ctx: Context,
  given: GivenFile[],
  apply: boolean,
  who: string,
): Promise<ExchangeReport> {
  const { sound, problems } = await parseAll(ctx, given)
  const pictures = await takePictures(ctx, given, apply, who)
  const known = new Map((await allRows(ctx.db)).map((row) => [`${row.kind} ${row.key}`, row]))
  const changes = sound.flatMap(({ file, source, document }) => {
    const row = known.get(`${document.kind} ${document.key}`)
    return row?.source === source
      ? []
      : [{ file, source, document, row, changes: row ? describeChanges(row.document, document) : ['new'] }]
  })
  if (apply && changes.length > 0)
    await ctx.db.transaction(async (tx) => {
      const numberOf = await nextNumbers(
        tx,
        changes.map(({ document }) => document),
      )
      await putDefinitions(
        tx,
        changes.map(({ file, source, document, row }): DefinitionValues => ({
          document,
          source,
          file: row?.file ?? file.slice(file.lastIndexOf('/') + 1),
          repositoryId: row?.repositoryId ?? null,
          hash: row?.hash ?? '',
          version: numberOf(document),
          edited: typeof row?.repositoryId === 'number' && row.hash !== hashOf(source),
          theirs: row?.theirs ?? null,
        })),
      )
      await addVersions(
        tx,
        changes.map(({ document, source, row, changes: sentences }): NewVersion => ({
          kind: document.kind,
          key: document.key,
          number: numberOf(document),
          who,
          how: row ? 'edited' : 'made',
          changes: sentences.length > 0 ? sentences : ['only comments or layout'],
          source,
        })),
      )
      await note(tx, who, 'workspace.import', 'files', { files: changes.length })
      await notify(tx, 'definitions')
    })
  return {
    fresh: [...changes.filter(({ row }) => !row).map(({ document }) => document.key), ...pictures.fresh],
    changed: [
      ...changes
        .filter(({ row }) => row)
        .map(({ document, file, changes: sentences }) => ({ key: document.key, file, changes: sentences })),
      ...pictures.changed,
    ],
    same: sound.length - changes.length + pictures.same,
    problems: [...problems, ...pictures.problems],
    applied: apply,
  }
}

async function parseAll(
  ctx: Context,
  given: GivenFile[],
): Promise<{ sound: (GivenFile & { document: Definition })[]; problems: FileProblem[] }> {
  const sound: (GivenFile & { document: Definition })[] = []
  const problems: FileProblem[] = []
  const seen = new Map<string, string>()
  const tables = new Set(given.flatMap(({ source }) => tablesNamedIn(source)))
  const wanted = given.filter(
    ({ file }) =>
      kindOfFile(file) !== undefined &&
      (!file.endsWith('.json') || tables.has(file.slice(file.lastIndexOf('/') + 1))),
  )
  const parsed = await ctx.work.run('parseAll', wanted, { limitMs: PARSE_MS })
  for (const [i, { file, source }] of wanted.entries()) {
    const { definition, problems: found } = parsed[i]!
    for (const problem of found) problems.push(problem)
    if (!definition) continue
    const name = `${definition.kind} “${definition.key}”`
    const first = seen.get(name)
    if (first)
      problems.push({
        file,
        line: 1,
        column: 1,
        field: definition.kind,
        message: `${name} is in ${first} already; this file is left out`,
      })
    else {
      seen.set(name, file)
      sound.push({ file, source, document: definition })
    }
  }
  return { sound, problems }
}

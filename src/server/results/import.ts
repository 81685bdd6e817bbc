/** Takes in a result file as a run that was made elsewhere: streamed, all of it or nothing. */
import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import {
  encodingOf,
  ResultReader,
  ResultRefused,
  UNKNOWN_BUILD,
  type ResultCase,
  type ResultSuite,
  type ResultSummary,
} from '@/core/formats'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { addImportedCases, endImport, keepResultSuites, type NewImportedCase } from '@/db/imported'
import { addRun } from '@/db/runs'
import type { Environment, FailureKind } from '@/core/model'
import type { RunSnapshot } from '@/db/schema'
import type { Context } from '../context'
import { partsOf } from '../http/body'
import { Problem } from '../http/problems'
import { Gate } from '../work'

/** Larger files are not read by anybody either. */
const RESULT_BYTES_MOST = 512_000_000
/** Cases written with one statement. */
const CASES_A_STATEMENT = 1000
const KEY_CHARS = 160
/** Suites of a file whose words are kept; the cases of more are taken in all the same. */
const SUITES_MOST = 1000
/** A result file has no kinds of failure: these are the nearest. */
const FAILURE_KINDS_OF: Partial<Record<ResultCase['outcome'], FailureKind>> = {
  failed: 'check',
  errored: 'script',
}

export type ImportRequest = { name: string; build?: string; environment?: string }
export type ImportAnswer = { run: number; address: string; summary: ResultSummary }

/** @param body the file's bytes, as they come
 * @throws {Problem} RESULT_REFUSED with the line, BODY_TOO_LARGE; then nothing was kept */
export async function importResults(
  ctx: Context,
  body: AsyncIterable<Uint8Array>,
  { name, build = UNKNOWN_BUILD, environment = 'result-file' }: ImportRequest,
  who: string,
): Promise<ImportAnswer> {
  const place: Environment = {
    key: environment,
    title: environment === 'result-file' ? 'Result file' : environment,
    browser: 'unknown',
    os: 'unknown',
    width: 0,
    height: 0,
    locale: 'en',
    simulated: false,
  }
  const snapshot: RunSnapshot = {
    suite: { key: `import: ${name}`, title: name },
    cases: {},
    routines: {},
    environments: [place],
    applications: {},
    commit: null,
    leftOut: [],
  }
  return imports.through(() =>
    spooled(ctx, body, (file) =>
      ctx.db.transaction(async (tx) => {
        const id = await addRun(
          tx,
          {
            title: name,
            suiteKey: snapshot.suite.key,
            build,
            retries: 0,
            limitMs: 0,
            startedBy: who,
            snapshot,
            kind: 'imported',
          },
          [],
          ctx.now,
        )
        let position = 0
        const waiting: NewImportedCase[] = []
        const suites: ResultSuite[] = []
        const reader = new ResultReader(
          (result) => void waiting.push(asRow(id, position++, environment, result)),
          (suite) => void (suites.length < SUITES_MOST && suites.push(suite)),
        )
        const flush = async (most: number) => {
          while (waiting.length > most) await addImportedCases(tx, waiting.splice(0, CASES_A_STATEMENT))
        }
        const summary = await read(reader, createReadStream(file), () => flush(CASES_A_STATEMENT))
        await flush(0)
        await endImport(tx, id, summary.ms, ctx.now)
        await keepResultSuites(tx, id, suites)
        await note(tx, who, 'results.import', String(id), { name, cases: summary.cases })
        await notify(tx, 'run', id)
        return { run: id, address: `/runs/${id}`, summary }
      }),
    ),
  )
}

/** Taken in at once, and those that wait for it. */
const imports = new Gate(2, 10)

/** Writes what comes to a file first: a slow line holds no connection of the database. @throws {Problem}
 * BODY_TOO_LARGE */
async function spooled<T>(
  ctx: Context,
  body: AsyncIterable<Uint8Array>,
  work: (file: string) => Promise<T>,
): Promise<T> {
  const folder = join(ctx.home, 'incoming')
  await mkdir(folder, { recursive: true })
  const file = join(folder, randomUUID())
  try {
    await pipeline(limited(body), createWriteStream(file))
    return await work(file)
  } finally {
    await rm(file, { force: true })
  }
}

async function* limited(body: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let bytes = 0
  for await (const part of partsOf(body)) {
    bytes += part.length
    if (bytes > RESULT_BYTES_MOST)
      throw new Problem(
        'BODY_TOO_LARGE',
        `A result file of more than ${RESULT_BYTES_MOST / 1_000_000} MB is not taken in. Nothing was kept.`,
      )
    yield part
  }
}

async function read(
  reader: ResultReader,
  body: AsyncIterable<Uint8Array>,
  between: () => Promise<void>,
): Promise<ResultSummary> {
  let decoder: TextDecoder | undefined
  try {
    for await (const chunk of body) {
      decoder ??= new TextDecoder(encodingOf(chunk))
      reader.write(decoder.decode(chunk, { stream: true }))
      await between()
    }
    reader.write(decoder?.decode() ?? '')
    return reader.end()
  } catch (error) {
    if (!(error instanceof ResultRefused)) throw error
    throw new Problem('RESULT_REFUSED', error.message, { line: error.line })
  }
}

/** History goes by what the file calls the case; long names end in a hash, so that they stay apart. */
function keyOf({ className, suites, name }: ResultCase): string {
  const full = `${className ?? suites.join('/')}/${name}`
  return full.length <= KEY_CHARS
    ? full
    : `${full.slice(0, KEY_CHARS - 9)}-${createHash('sha256').update(full).digest('hex').slice(0, 8)}`
}

function asRow(runId: number, position: number, environment: string, result: ResultCase): NewImportedCase {
  const { className, file, line, type, detail, output, errorOutput, properties, attachments } = result
  return {
    caseRun: {
      runId,
      position,
      environment,
      caseKey: keyOf(result),
      title: result.name || 'without a name',
      groups: result.suites,
      parameters: {},
      exclusive: [],
      limitMs: 0,
      estimateMs: Math.round(result.ms),
      outcome: result.outcome,
      durationMs: Math.round(result.ms),
      failureMessage: result.message ?? null,
      failureKind: FAILURE_KINDS_OF[result.outcome] ?? null,
    },
    body: {
      line,
      properties,
      attachments,
      ...(className && { className }),
      ...(file && { file }),
      ...(type && { type }),
      ...(detail && { detail }),
      ...(output && { output }),
      ...(errorOutput && { errorOutput }),
    },
  }
}

/** Takes in a result file as a run that was made elsewhere: streamed, all of it or nothing. */
import { createHash } from 'node:crypto'
import { encodingOf, ResultReader, ResultRefused, type ResultCase, type ResultSummary } from '@/core/formats'
import { note } from '@/db/defects'
import { notify } from '@/db/notify'
import { addImportedCases, addRun, endImport, type NewImportedCase } from '@/db/runs'
import type { Environment } from '@/core/model'
import type { RunSnapshot } from '@/db/schema'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Larger files are not read by anybody either. */
const RESULT_BYTES_MOST = 512_000_000
/** Cases written with one statement. */
const CASES_A_STATEMENT = 1000
const KEY_CHARS = 160

export type ImportRequest = { name: string; build?: string; environment?: string }
export type ImportAnswer = { run: number; address: string; summary: ResultSummary }

/** @param body the file's bytes, as they come
 * @throws {Problem} RESULT_REFUSED with the line, BODY_TOO_LARGE; then nothing was kept */
export async function importResults(ctx: Context, body: AsyncIterable<Uint8Array>, { name, build = 'unknown', environment = 'result-file' }: ImportRequest, who: string): Promise<ImportAnswer> {
  const place: Environment = { key: environment, title: environment === 'result-file' ? 'Result file' : environment, browser: 'unknown', os: 'unknown', width: 0, height: 0, locale: 'en', simulated: false }
  const snapshot: RunSnapshot = { suite: { key: `import: ${name}`, title: name }, cases: {}, routines: {}, environments: [place], applications: {}, commit: null, leftOut: [] }
  return ctx.db.transaction(async (tx) => {
    const id = await addRun(tx, { title: name, suiteKey: snapshot.suite.key, build, retries: 0, limitMs: 0, startedBy: who, snapshot, kind: 'imported' }, [], ctx.now)
    let position = 0
    const waiting: NewImportedCase[] = []
    const reader = new ResultReader((result) => void waiting.push(asRow(id, position++, environment, result)))
    const flush = async (most: number) => {
      while (waiting.length > most) await addImportedCases(tx, waiting.splice(0, CASES_A_STATEMENT))
    }
    const summary = await read(reader, body, () => flush(CASES_A_STATEMENT))
    await flush(0)
    await endImport(tx, id, summary.ms, ctx.now)
    await note(tx, who, 'results.import', String(id), { name, cases: summary.cases })
    await notify(tx, 'run', id)
    return { run: id, address: `/runs/${id}`, summary }
  })
}

async function read(reader: ResultReader, body: AsyncIterable<Uint8Array>, between: () => Promise<void>): Promise<ResultSummary> {
  let decoder: TextDecoder | undefined
  let bytes = 0
  try {
    for await (const chunk of body) {
      bytes += chunk.length
      if (bytes > RESULT_BYTES_MOST) throw new Problem('BODY_TOO_LARGE', `A result file of more than ${RESULT_BYTES_MOST / 1_000_000} MB is not taken in. Nothing was kept.`)
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
  return full.length <= KEY_CHARS ? full : `${full.slice(0, KEY_CHARS - 9)}-${createHash('sha256').update(full).digest('hex').slice(0, 8)}`
}

function asRow(runId: number, position: number, environment: string, result: ResultCase): NewImportedCase {
  const { className, file, line, type, detail, output, errorOutput, properties, attachments } = result
  return {
    caseRun: {
      runId, position, environment, caseKey: keyOf(result), title: result.name || 'without a name', groups: result.suites, parameters: {}, exclusive: [], limitMs: 0, estimateMs: Math.round(result.ms),
      outcome: result.outcome, durationMs: Math.round(result.ms), failureMessage: result.message ?? null,
      failureKind: result.outcome === 'failed' ? 'check' : result.outcome === 'errored' ? 'script' : null,
    },
    body: { line, properties, attachments, ...(className && { className }), ...(file && { file }), ...(type && { type }), ...(detail && { detail }), ...(output && { output }), ...(errorOutput && { errorOutput }) },
  }
}

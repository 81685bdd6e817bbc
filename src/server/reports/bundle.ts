/** A case run as a zip: pages that work from disk, beside screens, videos and logs. Written piece by piece:
 * it is never in memory as a whole. */
import { Readable } from 'node:stream'
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import { bundleIndex, bundlePage, hashesOf, type BundledAttempt } from '@/core/reports'
import { note } from '@/db/audit'
import { attemptsOf } from '@/db/endings'
import { evidenceRows } from '@/db/evidence'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { askLog } from '../reading'
import { documentedAttempt, documentOf } from './document'
import { reporting } from './reporting'

/** What a zip of the usual kind can hold, with room to spare. */
const BYTES_MOST = 2_000_000_000
const ATTEMPTS_MOST = 40
const ENDINGS: Record<string, string> = {
  'image/jpeg': 'jpg',
  'image/png': 'png',
  'video/webm': 'webm',
  'text/plain': 'txt',
}

type Source = { name: string; text: string } | { name: string; hash: string }

/** All attempts of the case run that this one is of.
 * @throws {Problem} NOT_FOUND */
export async function serveBundle(ctx: Context, attemptId: string, who: string): Promise<Response> {
  const { caseRun } = await attemptContext(ctx, attemptId)
  const sources = await reporting.through(() => sourcesOf(ctx, caseRun.id, who))
  await ctx.db.transaction((tx) => note(tx, who, 'bundle.make', caseRun.id))
  const stream = Readable.from(zipped(ctx, sources), { objectMode: false })
  return new Response(Readable.toWeb(stream) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename="${fileName(caseRun.caseKey)}-${caseRun.runId}.zip"`,
      'x-content-type-options': 'nosniff',
      'cache-control': 'private, no-store',
    },
  })
}

const fileName = (key: string) => key.replace(/[^A-Za-z0-9_-]+/g, '-').slice(0, 60) || 'case'

async function sourcesOf(ctx: Context, caseRunId: string, who: string): Promise<Source[]> {
  const made = { at: (ctx.now.moment ?? new Date()).toISOString(), by: who }
  const room = { bytes: BYTES_MOST, left: [] as string[] }
  const sources: Source[] = []
  const bundled: BundledAttempt[] = []
  for (const { id, number, role } of (await attemptsOf(ctx.db, caseRunId)).slice(0, ATTEMPTS_MOST)) {
    const attempt = await documentedAttempt(ctx, id)
    const folder = fileName(`attempt-${number}${role === '' ? '' : `-${role}`}`)
    const wanted: [hash: string, name: string][] = [
      ...hashesOf(attempt.lines).map((hash, i): [string, string] => [
        hash,
        `screens/${String(i + 1).padStart(4, '0')}`,
      ]),
      ...attempt.marked.map(({ hash }, i): [string, string] => [hash, `marked/${i + 1}`]),
      ...(attempt.video ? [[attempt.video.hash, 'video'] as [string, string]] : []),
      ...(attempt.source ? [[attempt.source, 'page-source'] as [string, string]] : []),
      ...(attempt.display ? [[attempt.display, 'display'] as [string, string]] : []),
    ]
    const files = await filesOf(ctx, wanted, room, folder)
    const one = { attempt, folder, files }
    bundled.push(one)
    sources.push(
      { name: `${folder}/index.html`, text: bundlePage(one) },
      { name: `${folder}/evidence.html`, text: await documentOf(ctx, attempt, made) },
      {
        name: `${folder}/log.txt`,
        text: await askLog(ctx, id, { ask: 'text', fold: false, only: null }),
      },
      ...[...files].map(([hash, name]) => ({ name: `${folder}/${name}`, hash })),
    )
  }
  return [{ name: 'index.html', text: bundleIndex(bundled, made, room.left) }, ...sources]
}

/** Names by hash of those that are kept, each once, as long as there is room. */
async function filesOf(
  ctx: Context,
  wanted: readonly [hash: string, name: string][],
  room: { bytes: number; left: string[] },
  folder: string,
): Promise<Map<string, string>> {
  const files = new Map<string, string>()
  const hashes = wanted.map(([hash]) => hash)
  const rows = new Map((await evidenceRows(ctx.db, hashes)).map((row) => [row.hash, row]))
  for (const [hash, name] of wanted) {
    if (files.has(hash)) continue
    const row = rows.get(hash)
    if (!row || (await ctx.evidence.size(hash)) === undefined) continue
    if (row.bytes > room.bytes) {
      room.left.push(`${folder}/${name}`)
      continue
    }
    room.bytes -= row.bytes
    files.set(hash, `${name}.${ENDINGS[row.mime] ?? 'bin'}`)
  }
  return files
}

/** What is text is compressed; pictures and videos are already. */
async function* zipped(ctx: Context, sources: readonly Source[]): AsyncGenerator<Uint8Array> {
  let ready: Uint8Array[] = []
  let failed: Error | undefined
  const zip = new Zip((error, part) => {
    if (error) failed = error
    else ready.push(part)
  })
  const take = (): Uint8Array[] => {
    if (failed) throw failed
    const parts = ready
    ready = []
    return parts
  }
  for (const source of sources) {
    if ('text' in source) {
      const file = new ZipDeflate(source.name, { level: 6 })
      zip.add(file)
      file.push(strToU8(source.text), true)
      yield* take()
      continue
    }
    const file = new ZipPassThrough(source.name)
    zip.add(file)
    for await (const part of ctx.evidence.read(source.hash)) {
      file.push(part as Uint8Array)
      yield* take()
    }
    file.push(new Uint8Array(0), true)
    yield* take()
  }
  zip.end()
  yield* take()
}

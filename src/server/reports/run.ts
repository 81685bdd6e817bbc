/** Reports of a run, as files. */
import { csvOf, htmlOf, junitOf, runReport, type RunReport } from '@/core/reports'
import type { Context } from '../context'
import { pieceOf } from '../evidence'
import { Problem } from '../http/problems'
import { comparisonsViewModel, runViewModel } from '../view-models'
import { Gate } from '../work'

/** Screens in one file: of so many failures, together at most so large. */
const [SCREENS_MOST, SCREENS_MOST_BYTES] = [60, 12_000_000]

/** A report is put together in memory, so few are at once. */
const reporting = new Gate(2, 20)

const WRITERS = {
  html: { type: 'text/html; charset=utf-8', write: writeHtml },
  csv: { type: 'text/csv; charset=utf-8', write: (_: Context, report: RunReport) => csvOf(report) },
  xml: { type: 'application/xml; charset=utf-8', write: (_: Context, report: RunReport) => junitOf(report) },
  json: {
    type: 'application/json; charset=utf-8',
    write: (_: Context, report: RunReport) => `${JSON.stringify(report, null, 2)}\n`,
  },
} satisfies Record<string, { type: string; write(ctx: Context, report: RunReport): string | Promise<string> }>
export const REPORT_FORMATS = Object.keys(WRITERS) as (keyof typeof WRITERS)[]

/** @param as one of REPORT_FORMATS
 * @throws {Problem} NOT_FOUND; BODY_INVALID: no such format */
export async function serveRunReport(ctx: Context, id: number, as: string): Promise<Response> {
  const format = REPORT_FORMATS.find((one) => one === as)
  if (!format) throw new Problem('BODY_INVALID', `A report is one of: ${REPORT_FORMATS.join(', ')}.`)
  const { type, write } = WRITERS[format]
  const text = await reporting.through(async () => {
    const [view, compared] = await Promise.all([runViewModel(ctx, id), comparisonsViewModel(ctx, id)])
    return write(ctx, runReport(view, compared))
  })
  return new Response(text, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="run-${id}.${format}"`,
      'x-content-type-options': 'nosniff',
      'content-security-policy': "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox",
      'cache-control': 'private, no-store',
    },
  })
}

async function writeHtml(ctx: Context, report: RunReport): Promise<string> {
  const address = process.env.OAK_PUBLIC_URL
  const screens = new Map<string, string>()
  let bytes = 0
  for (const { mark, screen } of report.cases) {
    if ((mark !== 'failed' && mark !== 'errored') || screen === null || screens.has(screen)) continue
    if (screens.size >= SCREENS_MOST) break
    const picture = await pieceOf(ctx, screen)
    if (!picture?.mime.startsWith('image/') || bytes + picture.bytes.length > SCREENS_MOST_BYTES) continue
    bytes += picture.bytes.length
    screens.set(screen, `data:${picture.mime};base64,${picture.bytes.toString('base64')}`)
  }
  return htmlOf(report, { screens, ...(address && { address }) })
}

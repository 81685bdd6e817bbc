/** Reports of a run, as files. */
import { csvOf, htmlOf, junitOf, onlyCaseRun, runReport, type RunReport } from '@/core/reports'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { NotPrinted, printPdf } from '@/node/print-pdf'
import { Problem } from '../http/problems'
import { comparisonsViewModel, runViewModel } from '../view-models'
import { Gate } from '../work'
import { picturesOf } from './pictures'
import { asFile, reporting } from './reporting'
import { xlsxOf } from './xlsx'

/** A browser takes 200 MB: one at once, and few wait for it. */
const printing = new Gate(1, 10)

/** Screens in one file: of so many failures, together at most so large. */
const MOST = { screens: 60, bytes: 12_000_000 }

const WRITERS = {
  html: {
    type: 'text/html; charset=utf-8',
    write: (ctx: Context, report: RunReport) => writeHtml(ctx, report, process.env.OAK_PUBLIC_URL),
  },
  csv: { type: 'text/csv; charset=utf-8', write: (_: Context, report: RunReport) => csvOf(report) },
  xml: { type: 'application/xml; charset=utf-8', write: (_: Context, report: RunReport) => junitOf(report) },
  json: {
    type: 'application/json; charset=utf-8',
    write: (_: Context, report: RunReport) => `${JSON.stringify(report, null, 2)}\n`,
  },
  xlsx: {
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    write: (_: Context, report: RunReport) => xlsxOf(report),
  },
  pdf: {
    type: 'application/pdf',
    write: async (ctx: Context, report: RunReport) =>
      asPdf(await writeHtml(ctx, report, process.env.OAK_PUBLIC_URL)),
  },
} satisfies Record<
  string,
  { type: string; write(ctx: Context, report: RunReport): Written | Promise<Written> }
>
type Written = string | Uint8Array
export const REPORT_FORMATS = Object.keys(WRITERS) as (keyof typeof WRITERS)[]

/** @param as one of REPORT_FORMATS
 * @throws {Problem} NOT_FOUND; BODY_INVALID: no such format */
export async function serveRunReport(ctx: Context, id: number, as: string): Promise<Response> {
  return served(ctx, as, `run-${id}`, () => reportOf(ctx, id))
}

/** The same of one case run: that of this attempt.
 * @throws {Problem} NOT_FOUND; BODY_INVALID: no such format */
export async function serveCaseRunReport(ctx: Context, attemptId: string, as: string): Promise<Response> {
  const { caseRun } = await attemptContext(ctx, attemptId)
  return served(ctx, as, `case-run-${caseRun.id}`, () => reportOf(ctx, caseRun.runId, caseRun.id))
}

async function served(
  ctx: Context,
  as: string,
  name: string,
  report: () => Promise<RunReport>,
): Promise<Response> {
  const format = REPORT_FORMATS.find((one) => one === as)
  if (!format) throw new Problem('BODY_INVALID', `A report is one of: ${REPORT_FORMATS.join(', ')}.`)
  const { type, write } = WRITERS[format]
  const content = await reporting.through(async () => write(ctx, await report()))
  return asFile(content, type, `${name}.${format}`)
}

/** @throws {Problem} NOT_PRINTED: there is no Chromium, or it does not print */
const asPdf = (html: string): Promise<Buffer> =>
  printing.through(() =>
    printPdf(html).catch((error: unknown) => {
      throw error instanceof NotPrinted
        ? new Problem('NOT_PRINTED', `There is no PDF: ${error.message}. HTML prints the same.`)
        : error
    }),
  )

/** As one page without links: for somebody who cannot get in. @throws {Problem} NOT_FOUND */
export const runAsHtml = (ctx: Context, id: number): Promise<string> =>
  reporting.through(async () => writeHtml(ctx, await reportOf(ctx, id), undefined))

/** @param caseRunId only of this one; absent: of all */
async function reportOf(ctx: Context, id: number, caseRunId?: string): Promise<RunReport> {
  const [view, compared] = await Promise.all([runViewModel(ctx, id), comparisonsViewModel(ctx, id)])
  return runReport(caseRunId === undefined ? view : onlyCaseRun(view, caseRunId), compared)
}

async function writeHtml(ctx: Context, report: RunReport, address: string | undefined): Promise<string> {
  const failing = report.cases.filter(({ mark }) => mark === 'failed' || mark === 'errored')
  const hashes = new Set(failing.flatMap(({ screen }) => screen ?? []))
  const screens = await picturesOf(ctx, hashes, MOST)
  return htmlOf(report, { screens, ...(address && { address }) })
}

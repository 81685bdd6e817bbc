/** Reports of a run, and of one case run of it. */
import { csvOf, htmlOf, junitOf, onlyCaseRun, runReport, sheetsOf, type RunReport } from '@/core/reports'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { comparisonsViewModel, runViewModel } from '../view-models'
import { serveReport, type Writable } from './formats'
import { picturesOf } from './pictures'
import { reporting } from './reporting'

/** Screens in one file: of so many failures, together at most so large. */
const MOST = { screens: 60, bytes: 12_000_000 }

/** @param as one of REPORT_FORMATS
 * @throws {Problem} NOT_FOUND; BODY_INVALID: no such format; NOT_PRINTED; BUSY */
export const serveRunReport = (ctx: Context, id: number, as: string): Promise<Response> =>
  serveReport(as, `run-${id}`, async () => writableRun(ctx, await runReportOf(ctx, id)))

/** The same of one case run: that of this attempt. */
export async function serveCaseRunReport(ctx: Context, attemptId: string, as: string): Promise<Response> {
  const { caseRun } = await attemptContext(ctx, attemptId)
  return serveReport(as, `case-run-${caseRun.id}`, async () =>
    writableRun(ctx, await runReportOf(ctx, caseRun.runId, caseRun.id)),
  )
}

/** As one page without links: for somebody who cannot get in. @throws {Problem} NOT_FOUND */
export const runAsHtml = (ctx: Context, id: number): Promise<string> =>
  reporting.through(async () => writeHtml(ctx, await runReportOf(ctx, id), undefined))

/** How a report that was read is written. */
export const writableRun = (ctx: Context, report: RunReport): Writable => ({
  html: () => writeHtml(ctx, report, process.env.OAK_PUBLIC_URL),
  csv: () => csvOf(report),
  junit: () => junitOf(report),
  json: () => report,
  sheets: () => sheetsOf(report),
})

/** @param caseRunId only of this one; absent: of all */
export async function runReportOf(ctx: Context, id: number, caseRunId?: string): Promise<RunReport> {
  const [view, compared] = await Promise.all([runViewModel(ctx, id), comparisonsViewModel(ctx, id)])
  return runReport(caseRunId === undefined ? view : onlyCaseRun(view, caseRunId), compared)
}

async function writeHtml(ctx: Context, report: RunReport, address: string | undefined): Promise<string> {
  const failing = report.cases.filter(({ mark }) => mark === 'failed' || mark === 'errored')
  const hashes = new Set(failing.flatMap(({ screen }) => screen ?? []))
  const screens = await picturesOf(ctx, hashes, MOST)
  return htmlOf(report, { screens, ...(address && { address }) })
}

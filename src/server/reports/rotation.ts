/** Reports of a rotation over its last runs. */
import {
  rotationCsv,
  rotationHtml,
  rotationJUnit,
  rotationReport,
  rotationSheets,
  type RotationReport,
} from '@/core/reports'
import { definitionRow } from '@/db/definitions'
import { endedRunsOfRotation, outcomesOfRuns } from '@/db/rotation-history'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { serveReport, type Writable } from './formats'

export const RUNS_USUAL = 20
export const RUNS_MOST = 60

/** @param runs how many of the last
 * @throws {Problem} NOT_FOUND; BODY_INVALID: no such format or number; NOT_PRINTED; BUSY */
export function serveRotationReport(ctx: Context, key: string, runs: number, as: string): Promise<Response> {
  if (!Number.isInteger(runs) || runs < 1 || runs > RUNS_MOST)
    throw new Problem('BODY_INVALID', `A report is over 1 to ${RUNS_MOST} runs.`)
  return serveReport(as, `rotation-${key}`, async () =>
    writableRotation(await rotationReportOf(ctx, key, runs)),
  )
}

/** How a report that was read is written. */
export const writableRotation = (report: RotationReport): Writable => ({
  html: () => rotationHtml(report),
  csv: () => rotationCsv(report),
  junit: () => rotationJUnit(report),
  json: () => report,
  sheets: () => rotationSheets(report),
})

/** @throws {Problem} NOT_FOUND */
export async function rotationReportOf(ctx: Context, key: string, most: number): Promise<RotationReport> {
  const rotation = await definitionRow(ctx.db, 'rotation', key)
  if (!rotation) throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  const runs = (await endedRunsOfRotation(ctx.db, key, most)).reverse()
  const outcomes = await outcomesOfRuns(
    ctx.db,
    runs.map(({ id }) => id),
  )
  return rotationReport({ key, title: rotation.document.title }, runs, outcomes)
}

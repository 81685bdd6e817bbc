/** The sheet of a guided case run: its steps in words, made from what the run froze at its start. */
import { guidedSteps, type GuidedStep } from '@/core/guided'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { nextGuidedOf, sheetOf, type GuidedSheet } from '@/db/guided'
import { caseRunRow, snapshotForCase } from '@/db/runs'
import type { CaseRunRow } from '@/db/claim'
import type { Context } from '../context'
import { Problem } from '../http/problems'

type Frozen = NonNullable<Awaited<ReturnType<typeof snapshotForCase>>>
export type Guided = {
  caseRun: CaseRunRow
  frozen: Frozen
  steps: GuidedStep[]
  sheet: GuidedSheet | undefined
}

/** @throws {Problem} NOT_FOUND: no case run of a guided run */
export async function guidedOf({ db }: Pick<Context, 'db'>, id: string): Promise<Guided> {
  const caseRun = await caseRunRow(db, id)
  const frozen = caseRun && (await snapshotForCase(db, caseRun.runId, caseRun.caseKey, caseRun.environment))
  if (!caseRun || !frozen || frozen.kind !== 'guided')
    throw new Problem('NOT_FOUND', 'There is no such case of a guided run.')
  const steps = guidedSteps(frozen.testCase, new Map(Object.entries(frozen.routines)), {
    parameters: caseRun.parameters,
    row: caseRun.row ?? {},
    environment: frozen.environment,
    build: frozen.build,
    runId: caseRun.runId,
  })
  return { caseRun, frozen, steps, sheet: await sheetOf(db, id) }
}

/** @param who reads it: what comes next is theirs @throws {Problem} NOT_FOUND */
export async function guidedSheetViewModel(
  ctx: Context,
  id: string,
  who: string,
): Promise<GuidedSheetViewModel> {
  const { caseRun, frozen, steps, sheet } = await guidedOf(ctx, id)
  const { key, title, browser, os } = frozen.environment
  return {
    id,
    runId: caseRun.runId,
    runTitle: frozen.title,
    build: frozen.build,
    caseKey: caseRun.caseKey,
    title: caseRun.title,
    environment: { key, title, browser, os },
    row: caseRun.row,
    rowAt:
      caseRun.rowIndex === null
        ? null
        : { index: caseRun.rowIndex, of: caseRun.rowCount ?? caseRun.rowIndex },
    addresses: frozen.applications,
    person: caseRun.agent,
    steps,
    verdicts: sheet?.verdicts ?? [],
    facts: sheet?.facts ?? {},
    video: sheet?.video ?? null,
    workedMs: sheet?.workedMs ?? 0,
    version: sheet?.version ?? 0,
    ready: caseRun.ready,
    ended: caseRun.state === 'waiting' ? null : { attemptId: caseRun.shownAttempt },
    next: (await nextGuidedOf(ctx.db, who, id)) ?? null,
  }
}

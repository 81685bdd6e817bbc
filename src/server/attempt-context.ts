/** What an attempt was about, for whoever reads it: the reader, the draft of a defect. */
import type { TestCase } from '@/core/model'
import type { AttemptRow, CaseRunRow } from '@/db/claim'
import { attemptRow, caseRunRow, snapshotForCase } from '@/db/runs'
import type { Context } from './context'
import { Problem } from './http/problems'

type Frozen = NonNullable<Awaited<ReturnType<typeof snapshotForCase>>>

/** `frozen`: from the snapshot of its run, with the environment the attempt played on.
 * `testCase`: of a joint case, with the steps of the attempt's role. */
export type AttemptContext = {
  attempt: AttemptRow
  caseRun: CaseRunRow
  frozen: Omit<Frozen, 'testCase'>
  testCase: TestCase
}

/** @throws {Problem} NOT_FOUND */
export async function attemptContext({ db }: Pick<Context, 'db'>, id: string): Promise<AttemptContext> {
  const attempt = await attemptRow(db, id)
  const caseRun = attempt && (await caseRunRow(db, attempt.caseRunId))
  if (!attempt || !caseRun) throw new Problem('NOT_FOUND', 'There is no such attempt.')
  const { role } = attempt
  const environment = caseRun.roleEnvironments[caseRun.roles.indexOf(role)] ?? caseRun.environment
  const { testCase, ...frozen } = (await snapshotForCase(db, caseRun.runId, caseRun.caseKey, environment))!
  return {
    attempt,
    caseRun,
    frozen,
    testCase: role === '' ? testCase : { ...testCase, steps: testCase.roles?.[role]?.steps ?? [] },
  }
}

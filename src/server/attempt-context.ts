/** What an attempt was about, for whoever reads it: the reader, the draft of a defect. */
import type { Step, TestCase } from '@/core/model'
import type { AttemptRow, CaseRunRow } from '@/db/claim'
import { attemptRow, caseRunRow, snapshotForCase } from '@/db/runs'
import type { Context } from './context'
import { Problem } from './http/problems'

type Frozen = NonNullable<Awaited<ReturnType<typeof snapshotForCase>>>

/** `frozen`: from the snapshot of its run, with the environment the attempt played on.
 * `testCase`: of a joint case, with the steps of the attempt's role; of a live session, with none. */
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
    testCase: { ...testCase, steps: stepsOf({ testCase, live: frozen.live, role }) },
  }
}

/** Those that are carried out by themselves. */
function stepsOf({
  testCase: { steps, roles },
  live,
  role,
}: Pick<Frozen, 'testCase' | 'live'> & { role: string }): Step[] {
  if (live) return [] // a person says which
  return role === '' ? steps : (roles?.[role]?.steps ?? [])
}

/** Confirming that a defect is mended: exactly what failed, where it failed, on the build that is said to
 * have it mended, often enough. */
import { CONFIDENCE, confirmedBy, timesToConfirm } from '@/core/triage'
import type { ConfirmationsViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import { addConfirmation, confirmationsOf, triedOnBuild } from '@/db/confirmations'
import { defectById, type DefectRow } from '@/db/defects'
import { notify } from '@/db/notify'
import { listBuilds, listEnvironments } from '@/db/workspace'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { prepareRun } from '../runs'

const [TRIED_MOST, PAST_MOST, BUILDS_MOST] = [200, 20, 30]
const LIMIT_MS = 120_000

export const confirmBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['build', 'environments', 'times'],
  properties: {
    build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    environments: {
      type: 'array',
      items: { type: 'string', maxLength: 80 },
      minItems: 1,
      maxItems: 50,
      uniqueItems: true,
    },
    times: { type: 'integer', minimum: 1, maximum: 50 },
  },
})

/** What there is to confirm with, and what was confirmed so far. @throws {Problem} NOT_FOUND */
export async function confirmationsViewModel(ctx: Context, id: number): Promise<ConfirmationsViewModel> {
  const defect = await requireDefect(ctx, id)
  const [tried, environments, builds, past] = await Promise.all([
    triedOnBuild(ctx.db, defect.caseKey, defect.build, TRIED_MOST),
    listEnvironments(ctx.db),
    listBuilds(ctx.db),
    confirmationsOf(ctx.db, id, PAST_MOST),
  ])
  const titles = new Map(environments.map(({ key, title }) => [key, title]))
  const failedOn = tried.filter(({ environment, failed }) => failed > 0 && titles.has(environment))
  const failed = failedOn.reduce((sum, one) => sum + one.failed, 0)
  const of = failedOn.reduce((sum, one) => sum + one.of, 0)
  const { times, confidence } = timesToConfirm({ failed, of })
  return {
    foundIn: defect.build,
    failed,
    of,
    times,
    confidence,
    wanted: CONFIDENCE,
    environments: environments.map(({ key, title }) => {
      const here = failedOn.find(({ environment }) => environment === key)
      return { key, title, failed: here?.failed ?? 0 }
    }),
    builds: builds.map(({ label }) => label).slice(0, BUILDS_MOST),
    past: past.map(({ passed, failed: bad, other, open, ...one }) => ({
      ...one,
      counts: { passed, failed: bad, other, open },
      verdict: confirmedBy({ passed, failed: bad, other, open }),
    })),
  }
}

/** Starts the run that tells. @returns its number
 * @throws {Problem} NOT_FOUND; those of a start; then nothing was written */
export async function startConfirmation(
  ctx: Context,
  id: number,
  { build, environments, times }: BodyOf<typeof confirmBody>,
  who: string,
): Promise<number> {
  const defect = await requireDefect(ctx, id)
  const found = defect.attemptId === null ? undefined : await attemptContext(ctx, defect.attemptId)
  const { rowIndex = null, parameters = {}, limitMs = LIMIT_MS } = found?.caseRun ?? {}
  const write = await prepareRun(
    ctx,
    {
      cases: [defect.caseKey],
      times,
      ...(rowIndex !== null && { row: rowIndex }),
      with: parameters,
      environments,
      build,
      retries: 0,
      limitMs,
      title: `Is it mended? ${defect.title}`.slice(0, 120),
    },
    who,
  )
  return ctx.db.transaction(async (tx) => {
    const runId = await write(tx)
    await addConfirmation(tx, { defectId: id, runId, times, startedBy: who })
    await note(tx, who, 'defect.confirm', String(id), { run: runId, build })
    await notify(tx, 'defects', id)
    return runId
  })
}

async function requireDefect({ db }: Pick<Context, 'db'>, id: number): Promise<DefectRow> {
  const defect = await defectById(db, id)
  if (!defect) throw new Problem('NOT_FOUND', 'There is no such defect.')
  return defect
}

/** Whether a failure is a defect that is known: which of the logged ones it is like, and why. */
import type { Similar, SimilarInput } from '@/core/triage'
import type { KnownDefect } from '@/core/view-models'
import { signaturesOfDefects } from '@/db/decisions'
import { listDefects } from '@/db/defects'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { lookAtRun } from './run-causes'

/** Of the newest; more are asked nothing. */
const ASKED_MOST = 500
const TOLD_MOST = 5
/** What is less alike is another one: the best of few may be like nothing. */
const SCORE_LEAST = 0.15
const LIMIT_MS = 5000

/** The most alike first. @throws {Problem} BUSY, TOOK_TOO_LONG */
export async function knownLike(
  ctx: Pick<Context, 'db' | 'work'>,
  draft: SimilarInput['draft'],
): Promise<KnownDefect[]> {
  const rows = await listDefects(ctx.db, ASKED_MOST)
  if (rows.length === 0) return []
  const signatures = await signaturesOfDefects(ctx.db)
  const input: SimilarInput = {
    draft,
    defects: rows.map(({ id, title, steps, expected, actual, environment }) => {
      const signature = signatures.get(id)?.find((one) => one === draft.signature) ?? signatures.get(id)?.[0]
      return {
        id: String(id),
        title,
        text: [steps, expected, actual].join('\n'),
        ...(signature !== undefined && { signature }),
        where: { environment },
      }
    }),
  }
  const answer = await ctx.work.run('compute', { name: 'similar', input }, { limitMs: LIMIT_MS })
  if (!('output' in answer)) return []
  const byId = new Map(rows.map((row) => [String(row.id), row]))
  return (answer.output as Similar[])
    .filter(({ score }) => score >= SCORE_LEAST)
    .slice(0, TOLD_MOST)
    .map(({ id, score, because }) => {
      const row = byId.get(id)!
      return {
        id: row.id,
        title: row.title,
        number: row.trackerNumber,
        state: row.trackerState ?? row.state,
        likeness: score,
        because,
      }
    })
}

/** For a cause of a run. @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function knownDefects(ctx: Context, runId: number, signature: string): Promise<KnownDefect[]> {
  const { causes, failures, environments } = await lookAtRun(ctx, runId)
  const cause = causes.find((one) => one.signature === signature)
  if (!cause) throw new Problem('NOT_FOUND', 'No failure of this run has this cause any more: look again.')
  const members = failures.filter(({ id }) => cause.members.includes(id)).slice(0, TOLD_MOST)
  const [first] = members
  return knownLike(ctx, {
    title: cause.title,
    text: members.flatMap(({ title, message }) => [title, message ?? '']).join('\n'),
    signature,
    ...(first && {
      where: { environment: environments.get(first.environment)?.title ?? first.environment },
    }),
  })
}

/** The evidence of a defect goes to the tracker after it, piece by piece, as a background job. */
import { sql } from 'drizzle-orm'
import type { Conn } from '@/db/client'
import { defectById, noteAttached, noteAttachProblem } from '@/db/defects'
import { evidenceRow } from '@/db/evidence'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { trackerMapping } from './mapping'
import { attachAtTracker, TrackerProblem } from './tracker'

export const ATTACH_EVIDENCE = 'attach-evidence'
const TRIES_MOST = 25
/** Larger pieces stay here; the defect says where they are. */
const PIECE_BYTES_MOST = 20_000_000
const ENDINGS: Record<string, string> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'video/webm': 'webm',
  'text/plain': 'txt',
}

/** Where the tracker is to have it. One job a defect. */
export async function enqueueAttaching(db: Conn, defectId: number): Promise<void> {
  if (!(await trackerMapping({ db })).attach) return
  await db.execute(sql`
    select graphile_worker.add_job(${ATTACH_EVIDENCE},
      payload => json_build_object('defectId', ${defectId}::int),
      job_key => ${`${ATTACH_EVIDENCE}-${defectId}`}, max_attempts => ${TRIES_MOST})`)
}

/** The job: goes on where it stopped before.
 * @throws {TrackerProblem} so that the queue tries again later; what went wrong is kept with the defect */
export async function attachEvidence(ctx: Pick<Context, 'db' | 'evidence'>, defectId: number): Promise<void> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect?.trackerNumber) return
  try {
    for (const [i, { kind, hash }] of defect.evidence.entries()) {
      if (i < defect.attached) continue
      const found = await evidenceRow(ctx.db, hash)
      const isSent = found && found.bytes <= PIECE_BYTES_MOST
      if (isSent) {
        const piece = {
          name: `${i + 1}-${kind}.${ENDINGS[found.mime] ?? 'bin'}`,
          mime: found.mime,
          content: await ctx.evidence.read(hash).toArray().then(Buffer.concat),
        }
        if (!(await attachAtTracker(ctx, defect.trackerNumber, piece)))
          return await noteAttachProblem(ctx.db, defectId, `The tracker does not take ${piece.name}.`)
      }
      await noteAttached(ctx.db, defectId, i + 1)
    }
  } catch (error) {
    if (!(error instanceof TrackerProblem)) throw error
    await noteAttachProblem(ctx.db, defectId, error.message)
    throw error
  } finally {
    await notify(ctx.db, 'defects', defectId)
  }
}

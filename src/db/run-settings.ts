/** How a run is carried out, whatever started it: a person, a rotation, or the failures of another run. */
import { eq } from 'drizzle-orm'
import type { Conn } from './client'
import { runs } from './schema'

const SETTINGS = {
  build: runs.build,
  stage: runs.stage,
  retries: runs.retries,
  retryOn: runs.retryOn,
  retryAgent: runs.retryAgent,
  limitMs: runs.limitMs,
  runLimitMs: runs.runLimitMs,
  stopAfter: runs.stopAfter,
  priority: runs.priority,
  pool: runs.pool,
  how: runs.how,
  rotationKey: runs.rotationKey,
}

export type RunSettings = Pick<typeof runs.$inferSelect, keyof typeof SETTINGS>

export const runSettings = async (db: Conn, id: number): Promise<RunSettings | undefined> =>
  (await db.select(SETTINGS).from(runs).where(eq(runs.id, id)))[0]

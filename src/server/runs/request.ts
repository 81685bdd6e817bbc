/** What a start is asked for. */
import type {
  Environment,
  FailureKind,
  PolicyUse,
  RetryAgent,
  RotationHow,
  RotationWhere,
  Step,
} from '@/core/model'
import { listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import type { Choice } from './choose'

/** `environments`: keys, or for a rotation what its axes pick. The last ones come from rotations only. */
export type StartRequest = Choice & {
  environments: string[]
  build: string
  retries: number
  limitMs: number
  title?: string
  priority?: number
  rehearsal?: boolean
  despite?: boolean
} & FromRotation
type FromRotation = {
  rotationKey?: string
  where?: RotationWhere
  before?: Step[]
  after?: Step[]
  how?: RotationHow
  runLimitMs?: number
  stopAfter?: number
  retryOn?: FailureKind[]
  retryAgent?: RetryAgent
  policy?: PolicyUse
}

/** @throws {Problem} NOT_FOUND */
export async function environmentsOf(ctx: Context, keys: readonly string[]): Promise<Environment[]> {
  const known = await listEnvironments(ctx.db)
  return keys.map((key) => {
    const row = known.find(
      (environment) => environment.key === key || environment.facts.aliases?.includes(key),
    )
    if (!row) throw new Problem('NOT_FOUND', `There is no environment “${key}”.`)
    return row.facts
  })
}

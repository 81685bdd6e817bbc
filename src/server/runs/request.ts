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
import type { GuidedBy } from './guided'

/** What anybody may ask for. `environments`: keys. */
export type PlainStart = Omit<Choice, 'parts'> & {
  environments: string[]
  build: string
  /** Of the applications; absent: their usual addresses. */
  stage?: string
  retries: number
  limitMs: number
  title?: string
  priority?: number
  rehearsal?: boolean
  /** Of a rehearsal of one case: a person steers its browser. */
  live?: boolean
  /** People do it instead of agents. */
  guided?: GuidedBy
  /** Of a rehearsal: texts that nobody saved yet, instead of those that are kept. */
  drafts?: { kind: 'case' | 'routine' | 'suite' | 'data'; key: string; source: string }[]
}
/** `environments` of a rotation are what its axes pick. The last ones come from rotations only. */
export type StartRequest = PlainStart & Pick<Choice, 'parts'> & FromRotation
type FromRotation = {
  despite?: boolean
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

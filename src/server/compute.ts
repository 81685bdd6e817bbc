import { schemaOf } from '@/core/compute'
import type { RoleName } from '@/db/people.schema'
import type { Context } from './context'
import { Problem } from './http/problems'

/** Budget of a search, by the role of the person who asks. */
const BUDGET_MOST_MS: Record<RoleName, number> = {
  viewer: 1000,
  tester: 5000,
  coordinator: 20_000,
  admin: 20_000,
}
/** Time for parsing, validating and answering, besides the search. */
const BESIDES_MS = 10_000

/** A body that a computation is given. */
export const COMPUTE_LIMITS = { bytes: 16_000_000, values: 1_000_000 }

/** @param role its `budgetMs` is bounded by
 * @throws {Problem} NOT_FOUND for a name that is none, BODY_INVALID with every fault, BUSY, TOOK_TOO_LONG,
 * TOOK_TOO_MUCH */
export async function computeBody(
  ctx: Pick<Context, 'work'>,
  name: string,
  input: unknown,
  role: RoleName,
): Promise<unknown> {
  if (!schemaOf(name)) throw new Problem('NOT_FOUND', `There is no computation “${name}”.`)
  const most = BUDGET_MOST_MS[role]
  const answer = await ctx.work.run(
    'compute',
    { name, input: withinBudget(input, most) },
    { limitMs: most + BESIDES_MS },
  )
  if ('output' in answer) return answer.output
  const { faults } = answer
  throw new Problem(
    'BODY_INVALID',
    faults.map(({ path, message }) => `${path || 'input'}: ${message}`).join('; '),
    faults,
  )
}

function withinBudget(input: unknown, most: number): unknown {
  if (input === null || typeof input !== 'object' || Array.isArray(input)) return input
  const { budgetMs } = input as { budgetMs?: unknown }
  return typeof budgetMs === 'number' && budgetMs > most ? { ...input, budgetMs: most } : input
}

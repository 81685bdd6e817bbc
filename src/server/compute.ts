import { BadInput, compute, schemaOf } from '@/core/compute'
import { boundedMatch } from '@/node/bounded-match'
import { Problem } from './http/problems'

/** @throws {Problem} NOT_FOUND for a name that is none, BODY_INVALID with every fault */
export async function computeBody(name: string, input: unknown): Promise<unknown> {
  if (!schemaOf(name)) throw new Problem('NOT_FOUND', `There is no computation “${name}”.`)
  try {
    return compute(name, input, { clock: () => performance.now(), matches: boundedMatch })
  } catch (error) {
    if (error instanceof BadInput) throw new Problem('BODY_INVALID', error.faults.map(({ path, message }) => `${path || 'input'}: ${message}`).join('; '), error.faults)
    throw error
  }
}

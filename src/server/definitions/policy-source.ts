import type { RecoveryPolicy } from '@/core/model'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { parseBeside } from './save'

/** The policy a text under edit says. @throws {Problem} BODY_INVALID with what is wrong in it */
export async function policyOfSource(ctx: Context, key: string, source: string): Promise<RecoveryPolicy> {
  const { definition, problems } = await parseBeside(ctx, `${key}.policy.yaml`, source)
  if (definition?.kind !== 'policy')
    throw new Problem(
      'BODY_INVALID',
      problems.map(({ line, message }) => `line ${line}: ${message}`).join('; '),
      problems,
    )
  return { ...definition, key }
}

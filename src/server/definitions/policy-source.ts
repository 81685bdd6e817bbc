import type { RecoveryPolicy } from '@/core/model'
import { parseDefinition } from '@/core/model/files'
import { Problem } from '../http/problems'

/** The policy a text under edit says. @throws {Problem} BODY_INVALID with what is wrong in it */
export function policyOfSource(key: string, source: string): RecoveryPolicy {
  const { definition, problems } = parseDefinition(`${key}.policy.yaml`, source)
  if (definition?.kind !== 'policy') throw new Problem('BODY_INVALID', problems.map(({ line, message }) => `line ${line}: ${message}`).join('; '), problems)
  return { ...definition, key }
}

import type { Step } from '@/core/model'
import type { StepParts } from './parts'
import { allValuesUsed } from './step-words'

/** What a step says in the browser may come back anywhere on its pages: a secret in it is hidden there from
 * now on. */
export async function concealSecrets({ work, scope, driver }: StepParts, step: Step): Promise<void> {
  const secrets = Object.values(work.secrets)
  if (secrets.length === 0) return
  const values = Object.values(allValuesUsed(step, scope))
  const used = secrets.filter((secret) => values.some((value) => value.includes(secret)))
  if (used.length > 0) await driver.conceal(used, Object.values(work.applications).map(originOf))
}

const originOf = (address: string): string => (URL.canParse(address) ? new URL(address).origin : '')

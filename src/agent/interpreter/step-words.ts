/** What the log says of a step before it is carried out: its words, and the values it uses. */
import { describeStep, fill, fillDeep, writtenReferences, type Scope, type Step } from '@/core/model'
import type { StepWords } from '@/core/execution'
import { isSecretTarget } from './targets'

export function wordsOf(step: Step, scope: Scope): StepWords {
  const words = describeStep(step)
  // A typed value is never put into words here: whether its field hides it is known only once it is found.
  if (step.verb === 'type' && isSecretTarget(step.in)) return { ...words, detail: '••••' }
  return filledIfItCan(words, scope)
}

/** With the values of the moment; as it is written where one is missing: the step itself will fail on that,
 * and say so. */
export function filledIfItCan<T>(written: T, scope: Scope): T {
  try {
    return fillDeep(written, scope)
  } catch {
    return written
  }
}

export function valuesUsed(step: Step, scope: Scope): { values?: Record<string, string> } {
  if (step.verb === 'type' && isSecretTarget(step.in)) return {}
  const values = allValuesUsed(step, scope)
  return Object.keys(values).length > 0 ? { values } : {}
}

/** As `valuesUsed`, also those of a field that hides what is typed. */
export function allValuesUsed(step: Step, scope: Scope): Record<string, string> {
  const values: Record<string, string> = {}
  const { steps: _, ...own } = step as Step & { steps?: unknown }
  for (const reference of writtenReferences(own)) {
    try {
      values[reference] = fill(`\${${reference}}`, scope)
    } catch {} // named by the step's own failure
  }
  return values
}

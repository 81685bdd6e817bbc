/** How long an attempt does nothing because its rotation says so: before each step, and after what changes
 * the page. */
import type { Step } from './types'
import { changesPage } from './verbs'

/** How often each wait comes. */
export type Pauses = { between: number; settle: number }
export const NO_PAUSES: Pauses = { between: 0, settle: 0 }

/** Of steps with those inside them, each once, and of the routines they use.
 * @param routine the steps of a routine; one that is not there, or that uses itself, counts as its call
 * alone */
export function pausesOf(
  steps: readonly Step[],
  routine: (key: string) => readonly Step[] | undefined,
  within: readonly string[] = [],
): Pauses {
  return steps.reduce<Pauses>((sum, step) => {
    const [inner, inside] =
      step.verb === 'use'
        ? [within.includes(step.routine) ? [] : (routine(step.routine) ?? []), [...within, step.routine]]
        : ['steps' in step ? step.steps : [], within]
    const nested = pausesOf(inner, routine, inside)
    return {
      between: sum.between + 1 + nested.between,
      settle: sum.settle + (changesPage(step) ? 1 : 0) + nested.settle,
    }
  }, NO_PAUSES)
}

export const pausedMs = (
  pauses: Pauses | undefined,
  how: { settleMs?: number | null; betweenMs?: number | null } | undefined,
): number => (pauses?.between ?? 0) * (how?.betweenMs ?? 0) + (pauses?.settle ?? 0) * (how?.settleMs ?? 0)

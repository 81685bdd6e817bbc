import { describeStep, sentenceText, type Step } from '@/core/model'

/** "storm-notice" as a heading. */
export const titleOf = (id: string): string => id.charAt(0).toUpperCase() + id.slice(1).replaceAll('-', ' ')
export const stepWords = (step: Step): string =>
  step.verb === 'use'
    ? `use the routine ${step.routine.replaceAll('-', ' ')}`
    : sentenceText(describeStep(step))

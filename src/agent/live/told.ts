/** What the people of a live session are told. */
import { stepsOfRecording, type RecordedEvent, type RecordedStep } from '@/core/live'
import { describeStep } from '@/core/model'
import { DriverFault } from '../driver/port'
import { StepFault } from '../interpreter/fault'
import type { StepParts } from '../interpreter/parts'

/** Values that are told, and how much of each. */
const [VALUES_MOST, VALUE_CHARS] = [100, 500]

/** What steps can refer to, within bounds. */
export const valuesOf = ({ scope: { names, row } }: StepParts): Record<string, string> =>
  Object.fromEntries(
    [...Object.entries(names), ...Object.entries(row).map(([name, value]) => [`row.${name}`, value] as const)]
      .slice(0, VALUES_MOST)
      .map(([name, value]) => [name, value.slice(0, VALUE_CHARS)]),
  )

export const reasonOf = (error: unknown): string =>
  error instanceof DriverFault || error instanceof StepFault
    ? error.message
    : ((error as Error).message ?? String(error)).split('\n')[0]!

/** What was recorded, as steps. Some engines keep what a person did in the page, where its own scripts may
 * write what they like: what is no event makes no step, and throws nothing. */
export function stepsOf(events: readonly RecordedEvent[]): RecordedStep[] {
  try {
    return stepsOfRecording(events)
  } catch {
    return []
  }
}

/** Whether it can be read by itself, and what it becomes be told. */
export function isEvent(event: RecordedEvent): boolean {
  try {
    return stepsOfRecording([event]).every(({ step }) => describeStep(step).object !== undefined)
  } catch {
    return false
  }
}

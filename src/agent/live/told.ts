/** What the people of a live session are told. */
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

'use client'
import { describeStep } from '@/core/model'
import type { KnownRoutine } from '@/core/live'
import type { StepRow } from '../bench/step-rows'
import { linesOf, stopWithin, type Stops } from './playing'
import { StopMark } from './StopMark'

/** The steps of the routine that the selected step uses: playing may stop before each. */
export function WithinRoutine({
  row,
  routines,
  stops,
  onStop,
}: {
  row: StepRow
  routines: readonly KnownRoutine[]
  stops: Stops
  onStop(key: string): void
}) {
  const { step } = row
  const routine = step?.verb === 'use' ? routines.find(({ key }) => key === step.routine) : undefined
  if (!routine) return null
  return (
    <details className="border-b border-line px-[14px] py-2 text-sm">
      <summary className="cursor-pointer text-soft">Steps of {routine.title}</summary>
      <ol aria-label={`Steps of ${routine.title}`} className="mt-1 max-h-[220px] overflow-auto">
        {linesOf(routine.steps).map(({ at, depth, step: inner }) => {
          const key = stopWithin(row.id, at)
          const { verb, object, detail } = describeStep(inner)
          return (
            <li key={key} className="flex items-center gap-2 py-0.5" style={{ paddingLeft: depth * 14 }}>
              <StopMark
                label={`Stop before ${verb} ${object}`}
                stop={stops[key]}
                onStop={() => onStop(key)}
              />
              <span className="min-w-0 truncate">
                <span className="text-soft">{verb}</span> {object}
                {detail && <span className="text-soft"> {detail}</span>}
              </span>
            </li>
          )
        })}
      </ol>
    </details>
  )
}

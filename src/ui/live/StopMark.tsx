'use client'
import type { Stop } from '@/core/live'
import { Hint } from '../base/Hint'
import { stopWords } from './StopFields'

/** Whether playing stops before a step. */
export function StopMark({ label, stop, onStop }: { label: string; stop: Stop | undefined; onStop(): void }) {
  return (
    <Hint text={stop ? `Playing stops before it ${stopWords(stop)}` : 'Stop before it'}>
      <button
        type="button"
        aria-label={label}
        aria-pressed={stop !== undefined}
        onClick={(event) => {
          event.stopPropagation()
          onStop()
        }}
        className="grid size-3.5 shrink-0 place-items-center text-running opacity-20 hover:opacity-100 aria-pressed:opacity-100"
      >
        <span className="size-2.5 rotate-45 bg-running" aria-hidden />
      </button>
    </Hint>
  )
}

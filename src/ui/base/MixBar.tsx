import { describeCounts, totalOf, type Counts, type Mark as MarkName } from '@/core/execution'
import { Mark, MARK_FILL } from './Mark'

const ORDER: MarkName[] = [
  'passed',
  'recovered',
  'failed',
  'errored',
  'skipped',
  'cancelled',
  'running',
  'claimed',
  'paused',
  'waiting',
]

/** A run's outcomes as one bar; what is small stays visible. */
export function MixBar({ counts, className = 'h-3' }: { counts: Counts; className?: string }) {
  return (
    <div
      className={`flex w-full gap-px overflow-hidden rounded-[2px] ${className}`}
      role="img"
      aria-label={describeCounts(counts)}
    >
      {ORDER.filter((mark) => counts[mark] > 0).map((mark) => (
        <div
          key={mark}
          className={`${MARK_FILL[mark]} min-w-[3px]`}
          style={{ flexGrow: counts[mark], flexBasis: 0 }}
        />
      ))}
    </div>
  )
}

/** Counts beside their marks: what is zero is left out. */
export function Tally({ counts, of = false }: { counts: Counts; of?: boolean }) {
  const ended = ['passed', 'recovered', 'failed', 'errored', 'skipped', 'cancelled'] as const
  const open = counts.waiting + counts.claimed + counts.running + counts.paused
  return (
    <span className="flex items-center gap-3 text-sm" aria-label={describeCounts(counts)}>
      {ended
        .filter((mark) => counts[mark] > 0)
        .map((mark) => (
          <span key={mark} className="flex items-center gap-1.5">
            <Mark mark={mark} />
            {counts[mark]}
          </span>
        ))}
      {open > 0 && <span className="text-soft">{open} to go</span>}
      {of && <span className="text-soft">of {totalOf(counts)}</span>}
    </span>
  )
}

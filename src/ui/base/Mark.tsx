import type { Mark as MarkName } from '@/core/execution'

/** Words for a mark, as a screen reader says them. */
export const MARK_WORDS: Record<MarkName, string> = {
  passed: 'passed',
  recovered: 'recovered',
  failed: 'failed',
  errored: 'errored',
  skipped: 'skipped',
  cancelled: 'cancelled',
  waiting: 'waiting',
  claimed: 'given to an agent',
  running: 'running',
  paused: 'paused',
}

const SHAPES: Record<MarkName, React.ReactNode> = {
  passed: <circle cx="6" cy="6" r="4.6" className="fill-passed" />,
  recovered: <path d="M6 6V1.4A4.6 4.6 0 1 0 10.6 6Z" className="fill-recovered" />,
  failed: <path d="M6 .4 11.6 6 6 11.6.4 6Z" className="fill-failed" />,
  errored: <path d="M1.4 1.4h6.2l3 3v6.2H1.4Z" className="fill-errored" />,
  skipped: <rect x="1" y="4.7" width="10" height="2.6" rx="1" className="fill-idle" />,
  cancelled: (
    <rect x="1.5" y="4.4" width="9" height="3.2" rx="1" className="fill-none stroke-idle" strokeWidth="1.2" />
  ),
  waiting: <circle cx="6" cy="6" r="4" className="fill-none stroke-idle" strokeWidth="1.3" />,
  claimed: (
    <>
      <circle cx="6" cy="6" r="4" className="fill-none stroke-running" strokeWidth="1.3" />
      <circle cx="6" cy="6" r="1.4" className="fill-running" />
    </>
  ),
  running: (
    <g className="turning">
      <circle cx="6" cy="6" r="4.2" className="fill-none stroke-running opacity-25" strokeWidth="1.8" />
      <path
        d="M6 1.8A4.2 4.2 0 0 1 10.2 6"
        className="fill-none stroke-running"
        strokeWidth="1.8"
        strokeLinecap="round"
      />
    </g>
  ),
  paused: (
    <>
      <rect
        x="2"
        y="1.5"
        width="3"
        height="9"
        rx=".6"
        className="fill-none stroke-running"
        strokeWidth="1.2"
      />
      <rect
        x="7"
        y="1.5"
        width="3"
        height="9"
        rx=".6"
        className="fill-none stroke-running"
        strokeWidth="1.2"
      />
    </>
  ),
}

/** The one drawing of an outcome: each has its own shape, so that it reads without colour. `silent` where
 * words stand beside it. */
export function Mark({
  mark,
  size = 12,
  silent = false,
  className = '',
}: {
  mark: MarkName
  size?: number
  silent?: boolean
  className?: string
}) {
  return (
    <svg
      viewBox="0 0 12 12"
      width={size}
      height={size}
      data-mark={mark}
      className={`inline-block shrink-0 ${className}`}
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': MARK_WORDS[mark] })}
    >
      {SHAPES[mark]}
    </svg>
  )
}

export const MARK_FILL: Record<MarkName, string> = {
  passed: 'bg-passed',
  recovered: 'bg-recovered',
  failed: 'bg-failed',
  errored: 'bg-errored',
  skipped: 'bg-idle',
  cancelled: 'bg-idle/50',
  waiting: 'bg-line',
  claimed: 'bg-running/50',
  running: 'bg-running',
  paused: 'bg-running/60',
}

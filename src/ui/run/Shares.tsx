import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import type { GuidedShare } from '@/core/view-models'

/** How far each person of a guided run is. */
export function Shares({ shares }: { shares: readonly GuidedShare[] }) {
  if (shares.length === 0) return null
  return (
    <ul
      aria-label="How far each is"
      className="flex flex-wrap gap-x-6 gap-y-1 border-b border-line px-[18px] py-2 text-sm"
    >
      {shares.map(({ person, of, done, leftMs }) => (
        <li key={person} className="flex items-center gap-2">
          <Link
            className="font-semibold hover:underline"
            href={`/guided?whose=${encodeURIComponent(person || 'nobody')}`}
          >
            {person || 'Nobody yet'}
          </Link>
          <span className="text-soft tabular-nums">
            {done} of {of}
            {leftMs > 0 && `, about ${describeDuration(leftMs)} left`}
          </span>
        </li>
      ))}
    </ul>
  )
}

import Link from '../base/Link'
import type { PastMark } from '@/core/view-models'
import { Mark, MARK_WORDS } from '../base/Mark'

/** The last outcomes, oldest first; each leads to its attempt. */
export function LastMarks({ marks, title }: { marks: PastMark[]; title: string }) {
  return (
    <span
      className="flex w-[126px] shrink-0 items-center gap-[4px]"
      role="group"
      aria-label={`Last outcomes of ${title}`}
    >
      {marks.map(({ mark, attemptId }, i) =>
        attemptId ? (
          <Link
            key={i}
            href={`/attempts/${attemptId}`}
            aria-label={`${MARK_WORDS[mark]}, open`}
            className="leading-none"
          >
            <Mark mark={mark} size={8} silent />
          </Link>
        ) : (
          <Mark key={i} mark={mark} size={8} />
        ),
      )}
    </span>
  )
}

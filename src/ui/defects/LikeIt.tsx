import Link from 'next/link'
import type { KnownDefect } from '@/core/view-models'
import { Button } from '../base/Button'

/** Less alike than this it is another one more often than not. */
const LIKENESS_LEAST = 0.45
const SHOWN = 3

/** Before a defect is logged: those that it may be already. */
export function LikeIt({
  known,
  disabled,
  onSame,
}: {
  known: readonly KnownDefect[]
  disabled: boolean
  /** The failure is this one. */
  onSame(id: number): void
}) {
  const shown = known.filter(({ likeness }) => likeness >= LIKENESS_LEAST).slice(0, SHOWN)
  if (shown.length === 0) return null
  return (
    <section aria-label="Known already?" className="rounded-oak bg-ground px-3 py-2 text-sm">
      <h3 className="label mb-1">Known already?</h3>
      <ul className="flex flex-col gap-0.5">
        {shown.map(({ id, title, number, state, likeness, because }) => (
          <li key={id} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1">
              <Link className="underline" href={`/defects?id=${id}`}>
                {number ?? `Defect ${id}`}: {title}
              </Link>{' '}
              <span className="text-soft">
                {state}, {Math.round(likeness * 100)} % alike: {because}
              </span>
            </span>
            <Button
              disabled={disabled}
              aria-label={`It is ${number ?? `defect ${id}`}`}
              onClick={() => onSame(id)}
            >
              It is this one
            </Button>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-xs text-soft">
        In place of a new one: the tracker is told that it was seen again, with the evidence below, and the
        cause is decided as known.
      </p>
    </section>
  )
}

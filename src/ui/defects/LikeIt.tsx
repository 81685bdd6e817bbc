import Link from 'next/link'
import type { KnownDefect } from '@/core/view-models'

/** Less alike than this it is another one more often than not. */
const LIKENESS_LEAST = 0.45
const SHOWN = 3

/** Before a defect is logged: those that it may be already. */
export function LikeIt({ known }: { known: readonly KnownDefect[] }) {
  const shown = known.filter(({ likeness }) => likeness >= LIKENESS_LEAST).slice(0, SHOWN)
  if (shown.length === 0) return null
  return (
    <section aria-label="Known already?" className="rounded-oak bg-ground px-3 py-2 text-sm">
      <h3 className="label mb-1">Known already?</h3>
      <ul className="flex flex-col gap-0.5">
        {shown.map(({ id, title, number, state, likeness, because }) => (
          <li key={id}>
            <Link className="underline" href={`/defects?id=${id}`}>
              {number ?? `Defect ${id}`}: {title}
            </Link>{' '}
            <span className="text-soft">
              {state}, {Math.round(likeness * 100)} % alike: {because}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-xs text-soft">
        If it is one of these, say so in Triage, or on Causes of the run, in place of a new one.
      </p>
    </section>
  )
}

import Link from '../base/Link'
import {
  VERDICT_WORDS,
  WEIGHT_WORDS,
  type ReleaseSheet,
  type Verdict,
  type Weight,
} from '@/core/requirements'

const VERDICT_LOOKS: Record<Verdict, string> = {
  go: 'text-passed-text',
  stop: 'text-failed',
  unknown: 'text-errored',
}
const WEIGHT_LOOKS: Record<Weight, string> = {
  stops: 'text-failed',
  doubt: 'text-errored',
  note: 'text-soft',
  good: 'text-passed-text',
}

/** What speaks for and against a build, each sentence with what it speaks of. */
export function Sheet({ sheet: { verdict, speaks } }: { sheet: ReleaseSheet }) {
  return (
    <>
      <h2 className={`font-display text-lg ${VERDICT_LOOKS[verdict]}`}>{VERDICT_WORDS[verdict]}</h2>
      <dl className="mt-3 flex flex-col gap-3 text-sm">
        {speaks.map(({ about, weight, text, of, more }, i) => (
          <div key={`${about}/${i}`} className="grid grid-cols-[84px_1fr] gap-x-3">
            <dt className={WEIGHT_LOOKS[weight]}>{WEIGHT_WORDS[weight]}</dt>
            <dd className="min-w-0">
              {text}
              {of.length > 0 && (
                <ul className="mt-1 flex flex-col gap-0.5">
                  {of.map(({ words, path }) => (
                    <li key={words + path} className="break-words">
                      <Link
                        className="inline-block text-soft underline first-letter:uppercase hover:text-ink"
                        href={path}
                      >
                        {words}
                      </Link>
                    </li>
                  ))}
                  {more > 0 && <li className="text-soft">and {more} more</li>}
                </ul>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </>
  )
}

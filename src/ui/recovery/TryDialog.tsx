'use client'
import { useQuery } from '@tanstack/react-query'
import Link from '../base/Link'
import type { RecoveryTried, RuleHistoryViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { titleOf } from './words'

type Props = {
  policy: string
  source: string
  attempt: string
  uncaught: RuleHistoryViewModel['uncaught']
  met: RuleHistoryViewModel['rules']
  onTry(attempt: string): void
  onClose(): void
}

/** What the rules, as they stand here, would do about a failure that was. */
export function TryDialog({ policy, source, attempt, uncaught, met, onTry, onClose }: Props) {
  const { data, error } = useQuery<RecoveryTried, ApiProblem>({
    queryKey: ['try-rules', policy, source, attempt],
    enabled: attempt !== '',
    retry: false,
    queryFn: () => api(`/api/recovery/${policy}/try`, { method: 'POST', body: { source, attempt } }),
  })
  const offered = [
    ...uncaught.map((one) => ({
      attempt: one.attempt,
      words: one.message,
      more: `${one.count} like it, no rule fits`,
    })),
    ...met.flatMap(({ rule, notHelped }) =>
      notHelped.slice(0, 2).map((one) => ({
        attempt: one.attempt,
        words: `${one.title}: ${one.message}`,
        more: `${titleOf(rule)} did not help`,
      })),
    ),
  ]
  return (
    <Dialog open onClose={onClose} title="Try on a past failure" wide>
      <div className="grid grid-cols-2 gap-5 text-sm">
        <div>
          <h3 className="label mb-1">Which failure</h3>
          {offered.length === 0 ? (
            <p className="text-soft">Nothing failed in the last 30 days.</p>
          ) : (
            <ul className="max-h-[360px] divide-y divide-line overflow-auto border-y border-line">
              {offered.map((one, i) => (
                <li key={i}>
                  <button
                    type="button"
                    aria-pressed={one.attempt === attempt}
                    onClick={() => onTry(one.attempt)}
                    className={
                      'block w-full px-2 py-1.5 text-left ' +
                      `${one.attempt === attempt ? 'bg-act-wash' : 'hover:bg-act-wash'}`
                    }
                  >
                    <span className="line-clamp-2">{one.words}</span>
                    <span className="block text-xs text-soft">{one.more}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
        <div aria-live="polite">
          <h3 className="label mb-1">What the rules would do</h3>
          {attempt === '' && <p className="text-soft">Choose a failure.</p>}
          {error && <Problem>{error.message}</Problem>}
          {data && (
            <>
              <p>
                <Link
                  href={`/attempts/${data.attempt}`}
                  className="underline decoration-faint underline-offset-2"
                >
                  {data.title}
                </Link>
                : {data.message}
              </p>
              <p className="mt-2 font-semibold">
                {data.rule
                  ? `${titleOf(data.rule)} would be used.`
                  : 'No rule would be used; the failure stands.'}
              </p>
              <ol className="mt-2 divide-y divide-line border-y border-line">
                {data.rules.map(({ id, why }) => (
                  <li key={id} className="flex gap-2 py-1.5">
                    <span className={`w-40 shrink-0 ${data.rule === id ? 'font-semibold' : ''}`}>
                      {titleOf(id)}
                    </span>
                    <span className="text-soft">{why ? `no: ${why}` : fitWords(data.rule === id)}</span>
                  </li>
                ))}
              </ol>
            </>
          )}
        </div>
      </div>
    </Dialog>
  )
}

const fitWords = (isFirst: boolean) =>
  isFirst ? 'fits, and is the first that does' : 'fits too, after another'

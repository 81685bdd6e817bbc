import Link from '../base/Link'
import { describeDuration, type RecoveryRule } from '@/core/model'
import { plural, type RuleHistoryViewModel } from '@/core/view-models'
import { Mark } from '../base/Mark'
import { titleOf } from './words'

type Props = {
  history: RuleHistoryViewModel | undefined
  error: string | undefined
  rule: RecoveryRule | undefined
  onTry(attempt: string): void
}

/** The chosen rule against the last 30 days; and what no rule catches. */
export function HistoryMargin({ history, error, rule, onTry }: Props) {
  if (error) return <p className="p-4 text-sm text-failed">{error}</p>
  if (!history) return <p className="p-4 text-sm text-soft">Looking at the failures of the last 30 days.</p>
  const found = rule && history.rules.find((one) => one.rule === rule.id)
  const head = 'label mt-4 mb-1'
  return (
    <div className="p-4 text-sm">
      {rule && found && (
        <>
          <h3 className="label mb-1">{titleOf(rule.id)}</h3>
          <p>
            {matchedWords(found, history.days)} {usedWords(found)}
          </p>
          {found.notHelped.length > 0 && (
            <>
              <h3 className={head}>Where it did not help</h3>
              <ul className="divide-y divide-line border-b border-line">
                {found.notHelped.map(({ attempt, title, run }, i) => (
                  <li key={i} className="flex items-center gap-2 py-1.5">
                    <Mark mark="errored" size={11} silent />
                    <Link href={`/attempts/${attempt}`} className="min-w-0 flex-1 truncate hover:underline">
                      {title} <span className="text-soft">· {run}</span>
                    </Link>
                    <button
                      type="button"
                      onClick={() => onTry(attempt)}
                      aria-label={`Try the rules on ${title}`}
                      className="text-xs text-act underline"
                    >
                      Try
                    </button>
                  </li>
                ))}
              </ul>
            </>
          )}
          <h3 className={head}>Does it hide something?</h3>
          <p className={found.hides ? 'font-semibold text-failed' : ''}>{hidesWords(found)}</p>
        </>
      )}
      <h3 className={head}>What no rule catches</h3>
      {history.uncaught.length === 0 ? (
        <p className="text-soft">
          {history.failures === 0
            ? 'Nothing failed in this time.'
            : 'Every failure of this time fits a rule.'}
        </p>
      ) : (
        <ul className="divide-y divide-line border-b border-line">
          {history.uncaught.map(({ kind, message, count, attempt }) => (
            <li key={`${kind}${message}`} className="flex items-center gap-2 py-1.5">
              <Mark mark={kind === 'check' ? 'failed' : 'errored'} size={11} silent />
              <Link
                href={`/attempts/${attempt}`}
                className="min-w-0 flex-1 truncate hover:underline"
                title={message}
              >
                {message}
              </Link>
              <b>{count}</b>
              <button
                type="button"
                onClick={() => onTry(attempt)}
                aria-label={`Try the rules on: ${message}`}
                className="text-xs text-act underline"
              >
                Try
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

type Found = RuleHistoryViewModel['rules'][number]
const matchedWords = ({ matched, environments }: Found, days: number): string =>
  matched === 0
    ? `Nothing of the last ${days} days matches it.`
    : `It matches ${plural(matched, 'failure')} of the last ${days} days on ` +
      `${plural(environments, 'environment')}.`
function usedWords({ used, helped, costMs }: Found): string {
  if (used === 0) return 'It was not used yet.'
  const often = used === 1 ? 'once' : `${used} times`
  const passed =
    helped === used ? 'each time the case passed' : `${plural(helped, 'case run')} passed after it`
  return `It was used ${often}: ${passed}, for ${describeDuration(costMs)} in all.`
}

function hidesWords({ sameCheck: { failed, of }, hides }: Found): string {
  if (of === 0) return 'That shows once it was used.'
  const after = `After ${of === 1 ? 'its one use' : `${of} uses`}`
  const share =
    failed === 0
      ? `${after} the same check never failed`
      : `${after} the same check failed ${failed === 1 ? 'once' : `${failed} times`}`
  return hides ? `${share}. It does not put anything right there: what fails may be a defect.` : `${share}.`
}

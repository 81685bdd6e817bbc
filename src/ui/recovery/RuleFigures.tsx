import { describeDuration } from '@/core/model'
import type { RuleHistoryViewModel } from '@/core/view-models'

const WIDTH = 156
const HEIGHT = 26

/** What a rule met: how often a case passed after it, what that took, and on which days. */
export function RuleFigures({
  found,
  days,
}: {
  found: RuleHistoryViewModel['rules'][number] | undefined
  days: number | undefined
}) {
  if (!found || !days)
    return (
      <div className="w-[172px] shrink-0 border-l border-line pl-4" aria-hidden>
        <div className="h-4 w-20 rounded bg-line/60" />
      </div>
    )
  const most = Math.max(1, ...found.byDay)
  const step = WIDTH / found.byDay.length
  return (
    <div className="w-[172px] shrink-0 border-l border-line pl-4 text-xs text-soft">
      in {days} days
      {found.used > 0 ? (
        <>
          <div className="font-display text-xl leading-6 text-ink" data-figure="helped">
            {found.helped} of {found.used}
          </div>
          passed after it, for {describeDuration(found.costMs)}
        </>
      ) : (
        <>
          <div className="font-display text-xl leading-6 text-ink" data-figure="matched">
            {found.matched}
          </div>
          {found.matched === 1 ? 'failure would' : 'failures would'} have matched
        </>
      )}
      {found.hides && <div className="mt-0.5 font-semibold text-failed">may hide something</div>}
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width={WIDTH}
        height={HEIGHT}
        role="img"
        aria-label={`${found.matched} failures matched; by day, the newest last: ${found.byDay.join(', ')}`}
        className="mt-1"
      >
        <line x1="0" x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} className="stroke-line" />
        {found.byDay.map(
          (n, i) =>
            n > 0 && (
              <rect
                key={i}
                x={i * step}
                width={step - 1}
                y={HEIGHT - 1 - (n / most) * (HEIGHT - 4)}
                height={(n / most) * (HEIGHT - 4)}
                className="fill-recovered"
              />
            ),
        )}
      </svg>
    </div>
  )
}

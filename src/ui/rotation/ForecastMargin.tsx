'use client'
import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import { plural, type RotationViewModel } from '@/core/view-models'
import { Problem } from '../base/Parts'
import { Ago } from '../base/Time'
import { LanesPicture } from './LanesPicture'
import type { Foreseen } from './useOutlook'
import { boundWords, pastWords, variantWords } from './words'

/** What the rotation would come to if it started now, as of the last key. */
export function ForecastMargin({
  foreseen: { basis, outlook, variants, problem, waiting },
  past,
}: {
  foreseen: Foreseen
  past: RotationViewModel['past']
}) {
  const environments = basis?.environments ?? []
  const titleOf = (key: string) => environments.find((one) => one.key === key)?.title ?? key
  if (problem && !(outlook && basis))
    return (
      <div className="p-4">
        <Problem>{problem}</Problem>
      </div>
    )
  if (!outlook || !basis)
    return <div className="m-4 h-72 animate-pulse rounded bg-line/40" aria-busy="true" />
  const { p50Ms, p90Ms, caseRuns, seats, used, utilisation, boundMs, makespanMs, unplaceable, risky, lanes } =
    outlook
  const above = boundMs > 0 ? Math.max(0, makespanMs / boundMs - 1) : 0
  const pastSaid = pastWords(past)
  const none = unplaceable.reduce((sum, { count }) => sum + count, 0)
  return (
    <div
      className={`flex flex-col gap-4 px-4 py-3.5 transition-opacity ${waiting ? 'opacity-60' : ''}`}
      aria-busy={waiting}
    >
      <section aria-label="Forecast">
        <h2 className="label">Forecast, if it started now and nothing else ran</h2>
        {lanes.length === 0 ? (
          <p className="mt-2 text-sm text-soft">
            {caseRuns === 0 ? 'Nothing would run. Choose what, and where.' : 'No seat can take any of it.'}
          </p>
        ) : (
          <>
            <div
              className="mt-1 mb-2 flex items-end gap-6"
              role="status"
              aria-label={
                `Half of the time done within ${describeDuration(p50Ms)}, nine times in ten within ` +
                `${describeDuration(p90Ms)}`
              }
            >
              <div>
                <div className="font-display text-[27px] leading-[32px] font-semibold" data-figure="p50">
                  {describeDuration(p50Ms)}
                </div>
                <div className="text-xs text-soft">half of the time less</div>
              </div>
              <div>
                <div className="font-display text-[19px] leading-[26px] font-semibold" data-figure="p90">
                  {describeDuration(p90Ms)}
                </div>
                <div className="text-xs text-soft">9 times in 10</div>
              </div>
            </div>
            <p className="mb-3 text-sm">
              {plural(caseRuns, 'case run')} on {used} of {plural(seats, 'seat')},{' '}
              <b className="font-semibold">{Math.round(utilisation * 100)}%</b> of their time used. No plan
              can be shorter than {describeDuration(boundMs)}: {boundWords(outlook)}. This one is{' '}
              {above < 0.005 ? 'as short' : `${(above * 100).toFixed(above < 0.1 ? 1 : 0)}% above that`}.
            </p>
            <LanesPicture outlook={outlook} environments={environments} />
          </>
        )}
      </section>
      {variants.length > 0 && lanes.length > 0 && (
        <section aria-label="What would change it">
          <h2 className="label mb-1">What would change it</h2>
          <ul className="text-sm">
            {variants.map((variant) => {
              const { what, effect } = variantWords(variant, environments)
              return (
                <li
                  key={`${variant.kind} ${variant.environment}`}
                  className="flex justify-between gap-3 border-b border-line/70 py-1 last:border-0"
                >
                  <span>{what}</span>
                  <b
                    className={
                      'shrink-0 font-semibold ' +
                      `${variant.earlierMs > 0 ? 'text-passed-text' : 'text-failed'}`
                    }
                  >
                    {effect}
                  </b>
                </li>
              )
            })}
          </ul>
        </section>
      )}
      <section aria-label="Can not be placed">
        <h2 className="label mb-1">Can not be placed</h2>
        {none === 0 ? (
          <p className="text-sm text-soft">
            Nothing{lanes.length > 0 && scarce(outlook, basis.agents, titleOf)}.
          </p>
        ) : (
          <ul className="flex flex-col gap-1 text-sm">
            {unplaceable.slice(0, 4).map(({ count, titles, environment, reason }) => (
              <li key={`${environment} ${reason}`}>
                <b className="font-semibold text-failed">{plural(count, 'case run')}</b> on{' '}
                {titleOf(environment)}: {reason}{' '}
                <span className="text-soft">
                  ({titles.slice(0, 2).join(', ')}
                  {count > 2 && '…'})
                </span>
              </li>
            ))}
          </ul>
        )}
      </section>
      {risky.length > 0 && (
        <section aria-label="Likely to need a second try">
          <h2 className="label mb-1">Likely to need a second try</h2>
          <p className="text-sm">
            {risky
              .slice(0, 4)
              .map(
                ({ title, environment, chance }) =>
                  `${title} on ${titleOf(environment)} (${Math.round(chance * 100)}%)`,
              )
              .join('; ')}
          </p>
        </section>
      )}
      <section aria-label="How good these forecasts were">
        <h2 className="label mb-1">How good these forecasts were</h2>
        {pastSaid ? (
          <>
            <p className="text-sm text-soft">{pastSaid}</p>
            <table className="mt-1.5 w-full text-xs">
              <thead>
                <tr className="text-left text-soft">
                  <th className="font-normal">Run</th>
                  <th className="font-normal">Forecast</th>
                  <th className="font-normal">Took</th>
                </tr>
              </thead>
              <tbody>
                {past.slice(0, 6).map(({ run, startedAt, ms, p50Ms: half, p90Ms: nine, counts }) => (
                  <tr key={run} className="border-t border-line/70">
                    <td className="py-0.5">
                      <Link className="underline" href={`/runs/${run}`}>
                        {run}
                      </Link>{' '}
                      <span className="text-soft">
                        <Ago at={startedAt} />
                      </span>
                    </td>
                    <td>
                      {describeDuration(half)} to {describeDuration(nine)}
                    </td>
                    <td className={counts && ms > nine ? 'text-failed' : ''}>
                      {counts ? describeDuration(ms) : 'ended early'}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        ) : (
          <p className="text-sm text-soft">
            It has not run yet. Each forecast is kept with its run and held against what happened.
          </p>
        )}
      </section>
    </div>
  )
}

/** Environments that hang on one seat alone. */
function scarce(
  { picked }: { picked: { keys: string[] } },
  agents: readonly { seats: number; environments: string[] }[],
  titleOf: (key: string) => string,
): string {
  const alone = picked.keys.filter(
    (key) =>
      agents
        .filter(({ environments }) => environments.includes(key))
        .reduce((sum, { seats }) => sum + seats, 0) === 1,
  )
  return alone.length === 0 ? '' : `. One seat alone serves ${alone.slice(0, 3).map(titleOf).join(', ')}`
}

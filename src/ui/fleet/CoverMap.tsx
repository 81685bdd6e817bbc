'use client'
import type { FleetViewModel } from '@/core/view-models'
import { Simulated } from '../base/Parts'

/** By how many seats can serve: none, one that must not fail, more. */
const LOOKS = [
  'border-failed/50 text-failed',
  'border-recovered bg-recovered-wash',
  'border-act/50 bg-act-wash',
]

/** Environments down, pools across: how many seats can serve them now, and how busy those were with them in
 * the last day. */
export function CoverMap({ viewModel: { environments, cover, agents } }: { viewModel: FleetViewModel }) {
  const pools = [...new Set(agents.map(({ pool }) => pool))].filter((pool) =>
    cover.some((one) => one.pool === pool),
  )
  return (
    <>
      <h2 className="label mb-1">Seats that can serve</h2>
      <p className="mb-2 text-xs text-soft">
        by environment and pool; the bar says how much of the last day they worked for it
      </p>
      <table className="w-full border-separate border-spacing-x-1 border-spacing-y-0.5 text-sm">
        <thead>
          <tr>
            <td />
            {pools.map((pool) => (
              <th
                key={pool}
                scope="col"
                className="max-w-[52px] text-left align-bottom text-[10.5px] leading-[13px] font-normal text-soft"
              >
                {pool}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {environments.map(({ key, title, seats, simulated }) => (
            <tr key={key}>
              <th scope="row" className="py-0.5 text-left text-[12.5px] leading-[15px] font-normal">
                {title} {simulated && <Simulated short />}
                {seats === 0 && <b className="block text-xs font-semibold text-failed">no seat</b>}
              </th>
              {pools.map((pool) => {
                const one = cover.find((entry) => entry.environment === key && entry.pool === pool)
                return (
                  <td
                    key={pool}
                    className="w-[44px] p-0 align-middle"
                    title={
                      one
                        ? `${title} on ${pool}: ${one.seats} seats, busy with it ` +
                          `${Math.round(one.busy * 100)}% of the last 24 hours`
                        : undefined
                    }
                  >
                    {one ? (
                      <div
                        className={
                          'rounded-[4px] border px-1.5 pt-px pb-1 text-center leading-[16px] ' +
                          `${LOOKS[Math.min(one.seats, 2)]}`
                        }
                      >
                        {one.seats}
                        <span className="block h-[3px] rounded bg-line" aria-hidden>
                          <span
                            className="block h-full rounded bg-act"
                            style={{ width: `${Math.round(one.busy * 100)}%` }}
                          />
                        </span>
                      </div>
                    ) : (
                      <div
                        className="hatched h-[22px] rounded-[4px] opacity-60"
                        aria-label="none"
                        role="img"
                      />
                    )}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

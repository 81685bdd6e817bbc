'use client'
import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import type { RunViewModel } from '@/core/view-models'
import { clock, useNow } from '../base/Time'

/** The forecast a run started with, beside what happened. */
export function AgainstForecast({ viewModel: { run, forecast } }: { viewModel: RunViewModel }) {
  const now = useNow(5000)?.getTime()
  if (!forecast && !run.endedWhy && !run.finish) return null
  const begun = Date.parse(run.createdAt)
  const took = (run.endedAt ? Date.parse(run.endedAt) : (now ?? begun)) - begun
  return (
    <p
      className="border-b border-line px-[18px] py-1.5 text-sm text-soft"
      role="status"
      aria-label="Forecast against actual"
    >
      {run.endedWhy && <b className="font-semibold text-failed">{run.endedWhy}. </b>}
      {forecast && forecast.p50Ms > 0 && (
        <>
          Forecast {describeDuration(forecast.p50Ms)}, nine times in ten within{' '}
          {describeDuration(forecast.p90Ms)};{' '}
          {run.endedAt ? (
            <>
              it took <b className="font-semibold text-ink">{describeDuration(took)}</b>:{' '}
              {verdict(took, forecast)}
            </>
          ) : (
            <>so far {describeDuration(took)}</>
          )}
          .
        </>
      )}
      {run.finish && !run.endedAt && run.paused && (
        <>
          {' '}
          Paused; about{' '}
          <b className="font-semibold text-ink">
            {describeDuration(Math.max(0, Date.parse(run.finish.p50) - Date.parse(run.finish.at)))}
          </b>{' '}
          more once it goes on.
        </>
      )}
      {run.finish && !run.endedAt && !run.paused && (
        <>
          {' '}
          As it goes, it ends about <b className="font-semibold text-ink">{clock(run.finish.p50)}</b>, nine
          times in ten by {clock(run.finish.p90)}
          {Math.abs(run.finish.pace - 1) >= 0.1 && (
            <>: things take {run.finish.pace.toFixed(1)} times what was expected</>
          )}
          .
        </>
      )}
      {run.rotationKey && (
        <>
          {' '}
          <Link className="underline" href={`/rotations/${run.rotationKey}`}>
            Its rotation
          </Link>
        </>
      )}
    </p>
  )
}

function verdict(took: number, { p50Ms, p90Ms }: { p50Ms: number; p90Ms: number }): string {
  const off = took - p50Ms
  if (took > p90Ms) return `${describeDuration(took - p90Ms)} longer than nine in ten should`
  if (Math.abs(off) < 1000) return 'as forecast'
  return off < 0 ? `${describeDuration(-off)} earlier` : `${describeDuration(off)} later, and within it`
}

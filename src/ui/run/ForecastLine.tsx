'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useDeferredValue } from 'react'
import { describeDuration } from '@/core/model'
import { plural, type StartForecast } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { placeToMend } from '../frame/mend'

const BOUNDS: Record<StartForecast['bound'], string> = {
  load: 'these seats have that much to do',
  'critical-path': 'what has to follow what takes as long',
  exclusive: 'what is held alone goes one after the other',
  'single-item': 'one case takes as long',
  window: 'the seats are not open before',
}

/** What a start would come to, computed as one chooses. */
export function ForecastLine({
  what,
  environments,
  retries,
  off,
  otherwise,
}: {
  what: { rule: string } | { suite: string } | { cases: string[] }
  environments: string[]
  retries: number
  off: boolean
  otherwise: string
}) {
  const asked = useDeferredValue(JSON.stringify({ ...what, environments, retries }))
  const { data, error } = useQuery<StartForecast, ApiProblem>({
    queryKey: ['forecast', asked],
    enabled: !off,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 15_000,
    meta: { topics: ['definitions', 'fleet'] },
    queryFn: () =>
      api<StartForecast>('/api/runs/forecast', { method: 'POST', body: JSON.parse(asked) as unknown }),
  })
  if (off || error || !data)
    return (
      <p className="text-soft" role="status">
        {error && !off ? error.message : otherwise}
      </p>
    )
  const { caseRuns, seats, p50Ms, p90Ms, boundMs, bound, expectedRetries, unplaceable, lacking } = data
  return (
    <p className="text-sm text-soft" role="status">
      {plural(caseRuns, 'case run')} on {plural(seats, 'seat')}: done in about{' '}
      <b className="text-ink">
        <Lasting ms={p50Ms} />
      </b>
      , nine times in ten within <Lasting ms={p90Ms} />, if nothing else runs. No order ends before{' '}
      <Lasting ms={boundMs} />: {BOUNDS[bound]}.
      {expectedRetries >= 0.5 && ` About ${plural(Math.round(expectedRetries), 'retry', 'retries')}.`}
      {unplaceable > 0 && (
        <b className="text-failed"> {plural(unplaceable, 'case run')} can be placed nowhere.</b>
      )}
      {lacking.map((one) => (
        <b key={`${one.kind} ${one.key}`} className="text-failed">
          {' '}
          There is no {one.kind} “{one.key}”, which {plural(one.cases, 'case names', 'cases name')}:{' '}
          <a href={placeToMend(one)} className="underline">
            set it up
          </a>
          .
        </b>
      ))}
    </p>
  )
}

/** A figure and its unit stay on one line. */
const Lasting = ({ ms }: { ms: number }) => <span className="whitespace-nowrap">{describeDuration(ms)}</span>

'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useDeferredValue } from 'react'
import type { RotationTimes } from '@/core/model'
import type { StartsViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { HintedWords } from '../base/Hint'

export function StartsWords({
  viewModel: { words, starts, none },
  paused,
}: {
  viewModel: StartsViewModel
  paused: boolean
}) {
  if (paused) return <span className="text-soft">Paused: its times do not count.</span>
  if (none)
    return (
      <span className="text-recovered-text">
        {none === 'over'
          ? 'It will not start any more: its last time has passed.'
          : 'No start is left: all that are planned lie in times in which nothing starts.'}
      </span>
    )
  return (
    <>
      <span className="inline-block first-letter:uppercase">{words}</span>.{' '}
      <span className="text-soft">
        Next:{' '}
        {starts.map(({ local, note }, i) => (
          <span key={local}>
            {i > 0 && ', '}
            {note ? (
              <HintedWords className="underline decoration-dotted" text={note}>
                {shortLocal(local)}
              </HintedWords>
            ) : (
              shortLocal(local)
            )}
          </span>
        ))}
      </span>
    </>
  )
}

/** Asked of the server as one types: the rules of recurrences and zones are large, and stay there. */
export function useStarts(when: RotationTimes | undefined) {
  const asked = useDeferredValue(when && JSON.stringify(when))
  return useQuery<StartsViewModel, ApiProblem>({
    queryKey: ['starts', asked],
    enabled: asked !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 30_000,
    meta: { topics: ['rota'] },
    queryFn: () =>
      api<StartsViewModel>('/api/rotations/starts', { method: 'POST', body: JSON.parse(asked!) as unknown }),
  })
}

/** What is wrong with one part of the times, to be said at its field. */
export const faultAt = (error: ApiProblem | null, path: string): string | undefined =>
  (Array.isArray(error?.detail) ? (error.detail as { path: string; message: string }[]) : []).find(
    (fault) => fault.path === path,
  )?.message

const shortLocal = (local: string) =>
  new Date(`${local}Z`).toLocaleString('en-GB', {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    timeZone: 'UTC',
  })

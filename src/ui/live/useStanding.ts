'use client'
import { useQuery } from '@tanstack/react-query'
import type { LiveStandingViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'

/** Asked again so often; while the agent is away, whether it was lost is asked sooner. */
const [EACH_MS, AWAY_MS] = [10_000, 2000]

/** How the session stands on the server, which knows what its agent cannot say. */
export function useStanding(attemptId: string, isOver: boolean, isAway: boolean) {
  const path = `/api/attempts/${attemptId}/standing`
  const { data } = useQuery<LiveStandingViewModel, ApiProblem>({
    queryKey: [path],
    queryFn: () => api<LiveStandingViewModel>(path),
    refetchInterval: isAway ? AWAY_MS : EACH_MS,
    enabled: !isOver,
  })
  return { isOver: isOver || data?.over === true, wantedBy: data?.wantedBy ?? null }
}

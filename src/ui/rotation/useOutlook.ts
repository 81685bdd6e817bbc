'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useRef, useState } from 'react'
import type { Rotation } from '@/core/model'
import { stepForm } from '@/core/model/editing'
import type { Outlook, Variant } from '@/core/rota'
import type { RotationBasisViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import type { Answered, Asked } from './outlook.worker'

export type Foreseen = {
  basis: RotationBasisViewModel | undefined
  outlook: Outlook | undefined
  variants: Variant[]
  tookMs: number
  problem: string | undefined
  waiting: boolean
}

/** The forecast of a rotation under edit: what it stands on comes from the server when what runs is changed;
 * the rest is computed here, in a worker, with each change. */
export function useOutlook(rotation: Rotation | undefined): Foreseen {
  const asked = useDeferredValue(
    rotation &&
      JSON.stringify({
        what: rotation.what,
        with: rotation.with,
        before: rotation.before.map(stepForm),
        after: rotation.after.map(stepForm),
      }),
  )
  const { data: basis, error } = useQuery<RotationBasisViewModel, ApiProblem>({
    queryKey: ['rotation-basis', asked],
    enabled: asked !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 30_000,
    meta: { topics: ['definitions', 'fleet'] },
    queryFn: () =>
      api<RotationBasisViewModel>('/api/rotations/basis', {
        method: 'POST',
        body: JSON.parse(asked!) as unknown,
      }),
  })
  const [found, setFound] = useState<{ outlook?: Outlook; variants: Variant[]; tookMs: number; no: number }>({
    variants: [],
    tookMs: 0,
    no: 0,
  })
  const [no, setNo] = useState(0)
  const worker = useRef<{ worker: Worker; sent?: RotationBasisViewModel }>(undefined)
  useEffect(() => {
    const made = new Worker(new URL('./outlook.worker.ts', import.meta.url), { type: 'module' })
    worker.current = { worker: made }
    made.onmessage = ({ data }: MessageEvent<Answered>) =>
      setFound((now) =>
        'outlook' in data
          ? { outlook: data.outlook, variants: now.variants, tookMs: data.tookMs, no: data.no }
          : { ...now, variants: data.variants },
      )
    return () => {
      made.terminate()
      worker.current = undefined
    }
  }, [])
  const wanted =
    rotation &&
    JSON.stringify({
      where: rotation.where,
      retries: rotation.retries,
      how: { settleMs: rotation.how.settleMs, betweenMs: rotation.how.betweenMs },
    })
  const count = useRef(0)
  useEffect(() => {
    const there = worker.current
    if (!there || !basis || wanted === undefined) return
    const fresh = there.sent !== basis
    there.sent = basis
    count.current += 1
    setNo(count.current)
    there.worker.postMessage({
      no: count.current,
      rotation: JSON.parse(wanted) as Asked['rotation'],
      ...(fresh && { basis }),
    } satisfies Asked)
  }, [basis, wanted])
  return {
    basis,
    outlook: found.outlook,
    variants: found.variants,
    tookMs: found.tookMs,
    problem: error?.message,
    waiting: found.no < no,
  }
}

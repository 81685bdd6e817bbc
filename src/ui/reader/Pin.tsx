'use client'
import { useQueryClient } from '@tanstack/react-query'
import { Pin as PinSign, PinOff } from 'lucide-react'
import type { AttemptViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'

/** Whether what was kept of an attempt stays whatever retention says. */
export function Pin({ attempt: { id, pinnedBy } }: { attempt: Pick<AttemptViewModel, 'id' | 'pinnedBy'> }) {
  const { may } = useFrame()
  const { problem, busy, ask } = useAsking()
  const client = useQueryClient()
  const change = async () => {
    await api(`/api/attempts/${id}/pin`, { method: pinnedBy === null ? 'PUT' : 'DELETE' })
    await client.invalidateQueries({ queryKey: [`/api/attempts/${id}`] })
  }
  if (pinnedBy === null && !may('tester')) return null
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
      {pinnedBy !== null && <span>Pinned by {pinnedBy}: its evidence stays, whatever retention says.</span>}
      {may('tester') && (
        <Button look="quiet" className="!h-7 !px-2" disabled={busy} onClick={() => void ask(change)}>
          {pinnedBy === null ? <PinSign size={14} aria-hidden /> : <PinOff size={14} aria-hidden />}
          {pinnedBy === null ? 'Pin its evidence' : 'Let it go'}
        </Button>
      )}
      {problem && <Problem>{problem}</Problem>}
    </div>
  )
}

'use client'
import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import type { OutlineLine, Screen } from '@/core/execution'
import type { AttemptViewModel, MarkedScreen } from '@/core/view-models'
import { api } from '../api'
import { Dialog } from '../base/Dialog'
import { EvidenceImage } from '../base/EvidenceImage'
import { RemoveButton } from '../base/RemoveButton'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { MarkUp } from '../markup/MarkUp'
import { LargeScreen } from './LargeScreen'

/** The marked screens of a line, beneath the original. */
export function Marked({ attempt, path }: { attempt: AttemptViewModel; path: string }) {
  const [shown, setShown] = useState<MarkedScreen>()
  const here = attempt.marked.filter((one) => one.path === path)
  if (here.length === 0) return null
  return (
    <section aria-label="Marked screens" className="mt-3">
      <h3 className="label mb-1">Marked</h3>
      <ul className="flex flex-wrap gap-3">
        {here.map((one) => (
          <li key={one.id} className="max-w-[180px]">
            <button
              type="button"
              aria-label={`Marked screen, large: ${one.note || one.markedBy}`}
              onClick={() => setShown(one)}
              className="block border border-line hover:border-faint"
            >
              <EvidenceImage
                hash={one.hash}
                alt=""
                className="h-[84px] w-auto max-w-[178px] object-contain"
              />
            </button>
            <p className="mt-0.5 text-xs">{one.note}</p>
            <p className="text-xs text-soft">
              {one.markedBy}, <Ago at={one.markedAt} />
            </p>
          </li>
        ))}
      </ul>
      <Dialog
        open={shown !== undefined}
        onClose={() => setShown(undefined)}
        title="Marked screen"
        wide="widest"
      >
        {shown && (
          <LargeScreen hash={shown.hash} alt={shown.note || 'The marked screen'}>
            <TakeAway attemptId={attempt.id} marked={shown} onDone={() => setShown(undefined)} />
          </LargeScreen>
        )}
      </Dialog>
    </section>
  )
}

function TakeAway({
  attemptId,
  marked,
  onDone,
}: {
  attemptId: string
  marked: MarkedScreen
  onDone(): void
}) {
  const { may } = useFrame()
  const client = useQueryClient()
  if (!may('tester')) return null
  return (
    <RemoveButton
      label="Delete this marked screen"
      word="Delete"
      title="Delete this marked screen?"
      onRemove={async () => {
        await api(`/api/attempts/${attemptId}/marked/${marked.id}`, { method: 'DELETE' })
        await client.invalidateQueries({ queryKey: [`/api/attempts/${attemptId}`] })
        onDone()
      }}
    >
      The original stays as it is. A defect it was attached to keeps it.
    </RemoveButton>
  )
}

/** Marks a screen of a line up, and keeps what was drawn beside it. */
export function MarkUpDialog({
  attemptId,
  line: { path, box },
  screen,
  onClose,
}: {
  attemptId: string
  line: Pick<OutlineLine, 'path' | 'box'>
  screen: Screen
  onClose(): void
}) {
  const client = useQueryClient()
  const keep = async (bytes: string, note: string) => {
    const body = { path, original: screen.hash, bytes, note }
    await api(`/api/attempts/${attemptId}/marked`, { method: 'POST', body })
    await client.invalidateQueries({ queryKey: [`/api/attempts/${attemptId}`] })
    toast('Kept beside the original; a defect that is drafted from here offers it')
    onClose()
  }
  return (
    <Dialog open onClose={onClose} title="Mark up the screen" wide="widest">
      <MarkUp screen={screen} about={box} keepLabel="Keep as new evidence" onKeep={keep} />
    </Dialog>
  )
}

'use client'
import type { RotaOccurrence } from '@/core/view-models'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { momentWords } from './words'

export type Asked = { occurrence: RotaOccurrence; to: string }

/** Moved by hand: this start alone, or all of them? */
export function MoveDialog({
  asked: { occurrence, to },
  now,
  onMove,
  onClose,
}: {
  asked: Asked
  now: Date
  onMove(series: boolean): void
  onClose(): void
}) {
  return (
    <Dialog open onClose={onClose} title={`Move ${occurrence.title}`}>
      <p className="mb-4 text-sm">
        From {momentWords(occurrence.at, now)} to <b className="font-semibold">{momentWords(to, now)}</b>.
        {Date.parse(to) < now.getTime() && <span className="text-failed"> That moment has passed.</span>}
      </p>
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={onClose}>Leave it</Button>
        <Button onClick={() => onMove(true)}>All of its starts</Button>
        <Button look="main" onClick={() => onMove(false)} autoFocus>
          This start only
        </Button>
      </div>
    </Dialog>
  )
}

'use client'
import { plural, type RunViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'

/** Stopping a run: what it takes with it, and whether what was begun is put back. */
export function StopDialog({
  viewModel: { run, seats },
  open,
  onClose,
  onStop,
}: {
  viewModel: RunViewModel
  open: boolean
  onClose(): void
  onStop(undo: boolean): void
}) {
  const waiting = run.counts.waiting
  return (
    <Dialog open={open} onClose={onClose} title={`Stop ${run.title}?`}>
      <p>
        {waiting > 0
          ? `${plural(waiting, 'case run')} that ${waiting === 1 ? 'waits' : 'wait'} will not be run. `
          : ''}
        {seats.length > 0
          ? `${plural(seats.length, 'attempt')} at work ${seats.length === 1 ? 'stops' : 'stop'} at the ` +
            'next step. '
          : ''}
        What has ended stays as it is. A stopped run cannot go on; to wait instead, pause it.
      </p>
      <div className="mt-5 grid grid-cols-2 gap-4">
        <div>
          <Button look="danger" className="w-full justify-center" onClick={() => onStop(true)}>
            Stop and undo
          </Button>
          <p className="mt-1.5 text-sm text-soft">
            Undo steps put back what was begun: bookings made for a case are taken away.
          </p>
        </div>
        <div>
          <Button className="w-full justify-center" onClick={() => onStop(false)}>
            Stop, leave as it is
          </Button>
          <p className="mt-1.5 text-sm text-soft">
            No undo steps: what the cases made stays in the applications, to be looked at.
          </p>
        </div>
      </div>
    </Dialog>
  )
}

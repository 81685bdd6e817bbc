'use client'
import { useState } from 'react'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'

/** Ends the session: with what the case made undone, or left to be looked at. */
export function EndSession({ disabled, onEnd }: { disabled: boolean; onEnd(undo: boolean): void }) {
  const [asking, setAsking] = useState(false)
  return (
    <>
      <Button look="danger" disabled={disabled} onClick={() => setAsking(true)}>
        End
      </Button>
      {asking && (
        <Dialog open onClose={() => setAsking(false)} title="End the session">
          <p className="mb-3 text-sm">
            The browser is closed, and its seat is free for runs. The undo steps of the case, and of the
            routines that were used, take back what was made; or it stays, to be looked at.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button look="main" onClick={() => onEnd(true)}>
              Undo and end
            </Button>
            <Button onClick={() => onEnd(false)}>End, and leave what was made</Button>
          </div>
        </Dialog>
      )}
    </>
  )
}

'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { toast } from 'sonner'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'

/** Starts a rotation now. When some of it can be placed nowhere, it says so and asks before it leaves that
 * out. */
export function StartNow({
  rotation,
  title,
  disabled,
  hint,
  look = 'main',
}: {
  rotation: string
  title: string
  disabled?: boolean
  hint?: string | undefined
  look?: 'main' | 'plain' | 'quiet'
}) {
  const router = useRouter()
  const [refused, setRefused] = useState<string>()
  const [busy, setBusy] = useState(false)
  const start = async (despite: boolean) => {
    setBusy(true)
    try {
      const { run } = await api<{ run: number }>(`/api/rotations/${rotation}/run`, {
        method: 'POST',
        body: { ...(despite && { despite }) },
      })
      toast(`${title} has started`)
      router.push(`/runs/${run}`)
    } catch (error) {
      const { code, message } = error as ApiProblem
      if (code === 'UNPLACEABLE') setRefused(message)
      else toast.error(message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <>
      <Button
        look={look}
        disabled={disabled || busy}
        hint={hint}
        aria-label={`Start now: ${title}`}
        onClick={() => void start(false)}
      >
        Start now
      </Button>
      <Dialog
        open={refused !== undefined}
        onClose={() => setRefused(undefined)}
        title="Some of it can be placed nowhere"
      >
        <p className="mb-4 text-sm">{refused}</p>
        <div className="flex justify-end gap-2">
          <Button onClick={() => setRefused(undefined)}>Change it first</Button>
          <Button look="main" disabled={busy} onClick={() => void start(true)}>
            Start without it
          </Button>
        </div>
      </Dialog>
    </>
  )
}

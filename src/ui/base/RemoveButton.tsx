'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { useAsking } from '../asking'
import { Button } from './Button'
import { Dialog } from './Dialog'
import { Problem } from './Parts'

/** Asks before something is taken away, and says what goes with it. */
export function RemoveButton({
  label,
  word = 'Remove',
  title,
  children,
  onRemove,
}: {
  label: string
  word?: string
  title: string
  children: React.ReactNode
  onRemove(): Promise<void>
}) {
  const [asking, setAsking] = useState(false)
  const { problem, ask } = useAsking()
  const remove = async () => {
    await onRemove()
    setAsking(false)
    toast(`${label}: done`)
  }
  return (
    <>
      <Button look="quiet" className="!h-6 !px-2" aria-label={label} onClick={() => setAsking(true)}>
        {word}
      </Button>
      <Dialog open={asking} onClose={() => setAsking(false)} title={title}>
        <div className="mb-4 text-sm">{children}</div>
        {problem && (
          <div className="mb-3">
            <Problem>{problem}</Problem>
          </div>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={() => setAsking(false)}>Keep it</Button>
          <Button look="danger" onClick={() => void ask(remove)}>
            {word}
          </Button>
        </div>
      </Dialog>
    </>
  )
}

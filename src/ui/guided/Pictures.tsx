'use client'
import { ImagePlus } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { Button } from '../base/Button'
import { KeptPictures } from './KeptPictures'
import { keepPicture, picturesIn } from './pictures'
import { SharedWindow } from './SharedWindow'
import { PICTURES_MOST } from './sheet-state'
import type { Sheet } from './useSheet'

/** Pictures of a step: pasted, dropped, chosen, or taken from a window that is shared with this page. */
export function Pictures({ id, sheet, disabled }: { id: string; sheet: Sheet; disabled: boolean }) {
  const { state, act } = sheet
  const { selected } = state
  const [busy, setBusy] = useState(false)
  const file = useRef<HTMLInputElement>(null)

  const add = async (given: () => Promise<Blob> | Blob) => {
    if (selected === undefined || disabled) return
    setBusy(true)
    try {
      act({ do: 'add-picture', path: selected, picture: await keepPicture(id, await given()) })
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setBusy(false)
    }
  }
  const latest = useRef(add)
  useEffect(() => {
    latest.current = add
  })
  useEffect(() => {
    const pasted = (event: ClipboardEvent) => {
      const [picture] = picturesIn(event.clipboardData)
      if (!picture) return
      event.preventDefault()
      void latest.current(() => picture)
    }
    document.addEventListener('paste', pasted)
    return () => document.removeEventListener('paste', pasted)
  }, [])
  return (
    <div
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        const [picture] = picturesIn(event.dataTransfer)
        if (picture) void add(() => picture)
      }}
    >
      <div className="flex flex-wrap items-center gap-2">
        <Button disabled={disabled || busy} onClick={() => file.current?.click()}>
          <ImagePlus size={14} aria-hidden /> Picture…
        </Button>
        <SharedWindow id={id} sheet={sheet} disabled={disabled} busy={busy} onPicture={add} />
        <span className="text-xs text-soft">or paste one; a step keeps {PICTURES_MOST}</span>
        <input
          ref={file}
          type="file"
          accept="image/png,image/jpeg,image/webp"
          aria-label="Picture of this step"
          className="sr-only"
          tabIndex={-1}
          onChange={({ target }) => {
            const [picture] = target.files ?? []
            target.value = ''
            if (picture) void add(() => picture)
          }}
        />
      </div>
      <KeptPictures id={id} sheet={sheet} disabled={disabled} />
    </div>
  )
}

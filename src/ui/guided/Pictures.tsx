'use client'
import { Camera, ImagePlus, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { Button } from '../base/Button'
import { EvidenceImage } from '../base/EvidenceImage'
import { useKeys } from '../frame/keys'
import { frameOf, keepPicture, picturesIn } from './pictures'
import { PICTURES_MOST, writtenOf } from './sheet-state'
import type { Sheet } from './useSheet'

/** Pictures of a step: pasted, dropped, chosen, or taken from a window that is shared with this page. */
export function Pictures({ id, sheet, disabled }: { id: string; sheet: Sheet; disabled: boolean }) {
  const { state, act } = sheet
  const { selected } = state
  const { pictures } = writtenOf(state, selected)
  const [busy, setBusy] = useState(false)
  const [stream, setStream] = useState<MediaStream>()
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
  useEffect(() => () => stream?.getTracks().forEach((track) => track.stop()), [stream])

  const share = async () => {
    const shared = await navigator.mediaDevices?.getDisplayMedia({ video: true }).catch(() => undefined)
    if (!shared) return toast.error('No window is shared. Paste a picture of it instead.')
    shared.getVideoTracks()[0]?.addEventListener('ended', () => setStream(undefined))
    setStream(shared)
  }
  const take = () => void add(() => frameOf(stream!))
  useKeys([{ key: 'p', what: 'a picture of the shared window', off: disabled || !stream, run: take }])
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
        {stream ? (
          <>
            <Button disabled={disabled || busy} keyHint="p" onClick={take}>
              <Camera size={14} aria-hidden /> Take one
            </Button>
            <Button look="quiet" onClick={() => setStream(undefined)}>
              Stop sharing
            </Button>
          </>
        ) : (
          <Button disabled={disabled} onClick={() => void share()}>
            <Camera size={14} aria-hidden /> Share a window…
          </Button>
        )}
        <span className="text-xs text-soft">
          or paste one; a step keeps {PICTURES_MOST}. In the log they can be cut and marked up.
        </span>
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
      {pictures.length > 0 && (
        <ul className="mt-2 flex gap-2">
          {pictures.map(({ hash }, i) => (
            <li key={hash} className="relative">
              <EvidenceImage
                hash={hash}
                alt={`Picture ${i + 1} of this step`}
                className="h-[110px] rounded-oak border border-line bg-ground object-contain"
              />
              {!disabled && (
                <button
                  type="button"
                  aria-label={`Take picture ${i + 1} away`}
                  onClick={() => act({ do: 'drop-picture', hash })}
                  className="absolute top-1 right-1 rounded-oak border border-line bg-raised p-0.5"
                >
                  <X size={12} aria-hidden />
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

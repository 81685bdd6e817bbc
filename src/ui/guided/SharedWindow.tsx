'use client'
import { Camera, CircleStop, Video } from 'lucide-react'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import { Button } from '../base/Button'
import { useKeys } from '../frame/keys'
import { frameOf } from './pictures'
import { useRecorder } from './useRecorder'
import type { Sheet } from './useSheet'

type Props = {
  id: string
  sheet: Sheet
  disabled: boolean
  busy: boolean
  onPicture(given: () => Promise<Blob>): Promise<void>
}

/** A window of the person's machine, shared with this page by their browser: pictures are taken of it, and a
 * video where that is wanted. */
export function SharedWindow({ id, sheet, disabled, busy, onPicture }: Props) {
  const [stream, setStream] = useState<MediaStream>()
  const recorder = useRecorder(id, sheet, stream)
  const { isRecording, isKeeping, begin, end } = recorder
  useEffect(() => () => stream?.getTracks().forEach((track) => track.stop()), [stream])

  const share = async () => {
    const shared = await navigator.mediaDevices?.getDisplayMedia({ video: true }).catch(() => undefined)
    if (!shared) return toast.error('No window is shared. Paste a picture of it instead.')
    shared.getVideoTracks()[0]?.addEventListener('ended', () => setStream(undefined))
    setStream(shared)
  }
  const take = () => void onPicture(() => frameOf(stream!))
  const turn = isRecording ? end : begin
  useKeys([
    { key: 'p', what: 'a picture of the shared window', off: disabled || !stream, run: take },
    { key: 'v', what: 'record the shared window, or stop', off: disabled || !stream || isKeeping, run: turn },
  ])
  if (!stream)
    return (
      <Button disabled={disabled} onClick={() => void share()}>
        <Camera size={14} aria-hidden /> Share a window…
      </Button>
    )
  return (
    <>
      <Button disabled={disabled || busy} keyHint="p" onClick={take}>
        <Camera size={14} aria-hidden /> Take one
      </Button>
      <Button disabled={disabled || isKeeping} keyHint="v" aria-pressed={isRecording} onClick={turn}>
        {isRecording ? <CircleStop size={14} aria-hidden /> : <Video size={14} aria-hidden />}
        {isRecording ? 'Stop the video' : 'Record'}
      </Button>
      <Button look="quiet" onClick={() => setStream(undefined)}>
        Stop sharing
      </Button>
    </>
  )
}

'use client'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { keepVideo, putVideo, VIDEO_BYTES_MOST } from './pictures'
import type { Sheet } from './useSheet'

const MIME = 'video/webm'
const BITS_PER_SECOND = 800_000
/** How often it is asked for what it has: a video that grows too large is ended in time. */
const PART_MS = 2000

/** Records a shared window as a video of the case. It ends when it is told to, with the window, with
 * this page, or when it is as large as may be kept; what was recorded is kept then. */
export function useRecorder(id: string, { act, time }: Sheet, stream: MediaStream | undefined) {
  const [recorder, setRecorder] = useState<MediaRecorder>()
  const [isKeeping, setKeeping] = useState(false)
  const { setRecording, paused, now } = time
  const isHere = useRef(true)
  useEffect(() => {
    isHere.current = true
    return () => {
      isHere.current = false
    }
  }, [])
  // closing the window would lose it
  useEffect(() => {
    if (!recorder && !isKeeping) return
    const hold = (event: BeforeUnloadEvent) => event.preventDefault()
    addEventListener('beforeunload', hold)
    return () => removeEventListener('beforeunload', hold)
  }, [recorder, isKeeping])

  const keep = async (parts: Blob[], startMs: number) => {
    setRecorder(undefined)
    setKeeping(true)
    try {
      const video = { hash: await keepVideo(id, new Blob(parts, { type: MIME })), startMs }
      // the sheet of a page that was left keeps nothing by itself
      if (isHere.current) act({ do: 'keep-video', video })
      else await putVideo(id, video)
      toast('The video is kept, and stands in the log of this case')
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setKeeping(false)
      setRecording(false)
    }
  }
  const begin = () => {
    if (!stream || recorder || isKeeping) return
    if (typeof MediaRecorder === 'undefined' || !MediaRecorder.isTypeSupported(MIME)) {
      toast.error('This browser records no video. Take pictures instead.')
      return
    }
    const made = new MediaRecorder(stream, { mimeType: MIME, videoBitsPerSecond: BITS_PER_SECOND })
    const parts: Blob[] = []
    const startMs = now()
    let bytes = 0
    made.addEventListener('dataavailable', ({ data }) => {
      bytes += data.size
      if (bytes <= VIDEO_BYTES_MOST) parts.push(data)
      else if (made.state !== 'inactive') {
        toast('The video is as long as one can be: it is kept as it is')
        made.stop()
      }
    })
    made.addEventListener('stop', () => void keep(parts, startMs))
    made.start(PART_MS)
    setRecorder(made)
    setRecording(true)
  }
  const end = () => recorder?.state !== 'inactive' && recorder?.stop()

  // what is not worked is not in the video either
  useEffect(() => {
    if (!recorder || recorder.state === 'inactive') return
    if (paused) recorder.pause()
    else if (recorder.state === 'paused') recorder.resume()
  }, [recorder, paused])
  // the window is not shared any more, or the page is left
  useEffect(
    () => () => {
      if (recorder && recorder.state !== 'inactive') recorder.stop()
    },
    [recorder, stream],
  )
  return { isRecording: recorder !== undefined, isKeeping, begin, end: () => void end() }
}

'use client'
import { useEffect, useRef, useState } from 'react'
import type { LineAnswer } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { api } from '../api'
import { Key } from '../base/Button'
import { Problem } from '../base/Parts'
import { evidenceUrl, whyUnreadable } from '../base/evidence'
import { OneOf, type Words } from '../base/ToggleGroup'
import { useKeys } from '../frame/keys'
import { momentOf } from './TimeLine'

/** After the end of any video. */
const FAR_S = 1e7
const LEAD_S = 0.3
/** Videos have about seven pictures a second. */
const PICTURE_S = 1 / 7
const BROKEN = 'The video cannot be played on from here: it ends before its end, or is none.'
type Speed = '0.25' | '0.5' | '1' | '2' | '4'
const SPEEDS: Words<Speed> = [
  ['0.25', '¼'],
  ['0.5', '½'],
  ['1', '1'],
  ['2', '2'],
  ['4', '4'],
]

/** What a browser recorded says no length: its end is looked for first, before which there is no way to a
 * moment of it. */
function isMeasured(player: HTMLVideoElement): boolean {
  if (player.duration !== Infinity) return true
  player.currentTime = FAR_S
  return false
}

/** A video at the second of the selected step; while it plays, the selection follows it. */
export function Video({
  viewModel,
  answer: { line, untilMs },
  covered,
  time,
  onSeek,
  onTime,
  onPlay,
}: {
  viewModel: AttemptViewModel
  answer: LineAnswer
  covered: boolean
  /** The moment to show; absent: that of the line. */
  time: number | undefined
  onSeek(ms: number): void
  onTime(path: string): void
  /** Told the moment while it plays. */
  onPlay(ms: number): void
}) {
  const player = useRef<HTMLVideoElement>(null)
  const video = viewModel.video!
  const [speed, setSpeed] = useState<Speed>('1')
  const [problem, setProblem] = useState<string>()
  const fail = () => void whyUnreadable(video.hash, BROKEN).then(setProblem)
  useEffect(() => {
    if (player.current) player.current.playbackRate = Number(speed)
  }, [speed])
  const step = (by: 1 | -1) => {
    const element = player.current
    if (!element) return
    element.pause()
    onSeek((element.currentTime + by * PICTURE_S) * 1000 + video.startMs)
  }
  useKeys([
    { key: '[', what: 'the video a picture back', run: () => step(-1) },
    { key: ']', what: 'the video a picture on', run: () => step(1) },
  ])
  const seek = () => {
    const element = player.current
    if (!element?.paused || !isMeasured(element)) return
    const moment = momentOf(line)
    if (time !== undefined) element.currentTime = Math.max(0, (time - video.startMs) / 1000)
    else if (moment !== undefined) element.currentTime = Math.max(0, (moment - video.startMs) / 1000 - LEAD_S)
  }
  // Seeking belongs to the selected line or moment, not to every drawing.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useEffect(seek, [line.path, line.startMs, video.startMs, time])
  // Under a dialog nobody watches, and moving on would take the address from what is done there.
  useEffect(() => {
    if (covered) player.current?.pause()
  }, [covered])
  const follow = () => {
    const element = player.current
    if (!element || element.paused) return
    const now = element.currentTime * 1000 + video.startMs
    onPlay(now)
    if (now >= (line.startMs ?? 0) && now < (untilMs ?? Infinity)) return
    const url = `/api/attempts/${viewModel.id}/path-at?ms=${Math.max(0, Math.round(now))}`
    void api<{ path: string | null }>(url).then(
      ({ path }) => path !== null && path !== line.path && !element.paused && onTime(path),
      () => {}, // the next time it is asked again
    )
  }
  return (
    <>
      <video
        ref={player}
        controls
        muted
        preload="auto"
        src={evidenceUrl(video.hash)}
        onLoadedMetadata={seek}
        onDurationChange={seek}
        onTimeUpdate={follow}
        onError={fail}
        aria-label="Video of the attempt"
        className="w-full border border-line bg-black"
        style={{ maxHeight: '52vh' }}
      />
      {problem && <Problem>{problem}</Problem>}
      <div className="mt-2 flex items-center gap-3 text-xs text-soft">
        <span>Speed</span>
        <OneOf label="Speed" value={speed} choices={SPEEDS} onChoose={setSpeed} />
        <span className="ml-auto flex items-center gap-1">
          <Key>[</Key>
          <Key>]</Key> a picture back, on
        </span>
      </div>
    </>
  )
}

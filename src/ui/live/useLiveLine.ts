'use client'
/** The line of a page to a live session: opened again when it breaks, as long as the page is there. */
import { useCallback, useEffect, useReducer, useRef } from 'react'
import {
  readFrame,
  type LiveNotice,
  type LiveOrder,
  type LiveRequest,
  type LiveWord,
  type PlacedStop,
} from '@/core/live'
import type { AttemptViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { IncomingFiles, saveFile } from './incoming-files'
import { newestFirst } from './newest-first'
import { AT_FIRST, reduceSession } from './session-state'

const AGAIN_MS = 1000
/** Said by the server of what cannot be opened again. */
const NOT_ALLOWED = 1008

export type Order =
  Exclude<LiveOrder, { do: 'steps' }> | LiveRequest | { do: 'play'; steps: Played[]; pauseMs?: number }
export type Played = { id: string; form: object; stops?: PlacedStop[] }
export type Frame = { width: number; height: number; picture: ImageBitmap }

/** @param onFrame each picture, outside of React: 28 a second are no state */
export function useLiveLine(attemptId: string, onFrame: (frame: Frame) => void) {
  const [state, act] = useReducer(reduceSession, AT_FIRST)
  const socket = useRef<WebSocket>(undefined)
  const draw = useRef(onFrame)
  const files = useRef(new IncomingFiles(saveFile))
  useEffect(() => {
    draw.current = onFrame
  })
  useEffect(() => {
    let [isOver, timer]: [boolean, number | undefined] = [false, undefined]
    const connect = () => {
      const url = `${window.location.origin.replace(/^http/, 'ws')}/api/live-sessions/${attemptId}/line`
      const line = new WebSocket(url)
      line.binaryType = 'arraybuffer'
      socket.current = line
      let wasOpen = false
      line.onopen = () => {
        wasOpen = true
        act({ say: 'connected', is: true })
      }
      line.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
        if (typeof data !== 'string') return void show(new Uint8Array(data))
        const word = JSON.parse(data) as LiveWord | LiveNotice
        if (word.say === 'file') files.current.take(word)
        else act(word)
      }
      line.onclose = ({ code }) => {
        act({ say: 'connected', is: false })
        if (isOver || code === NOT_ALLOWED) return
        const again = () => {
          if (!isOver) timer = window.setTimeout(connect, AGAIN_MS)
        }
        if (wasOpen) return again()
        // a line that is refused says no reason: the session may be over
        void isGoingOn(attemptId).then((goesOn) => {
          if (goesOn) return again()
          act({ say: 'over', because: 'it ended' })
        })
      }
    }
    const show = newestFirst(pictureIn, (frame) => draw.current(frame))
    connect()
    return () => {
      isOver = true
      window.clearTimeout(timer)
      socket.current?.close()
    }
  }, [attemptId])
  const say = useCallback((order: Order) => {
    if (socket.current?.readyState === WebSocket.OPEN) socket.current.send(JSON.stringify(order))
  }, [])
  const seen = useCallback(
    (what: 'problem' | 'dialog' | 'files' | 'picked' | 'asking' | 'list') => act({ say: 'seen', what }),
    [],
  )
  return { state, say, seen }
}

async function pictureIn(bytes: Uint8Array): Promise<Frame | null> {
  const frame = readFrame(bytes)
  if (!frame) return null
  const { width, height, jpeg } = frame
  const blob = new Blob([new Uint8Array(jpeg)], { type: 'image/jpeg' })
  const picture = await createImageBitmap(blob).catch(() => null)
  return picture && { width, height, picture }
}

/** Whether the session still goes on; while the server is away it may. */
const isGoingOn = (attemptId: string): Promise<boolean> =>
  api<Pick<AttemptViewModel, 'live'>>(`/api/attempts/${attemptId}`).then(
    ({ live }) => live,
    ({ status }: ApiProblem) => status !== 404,
  )

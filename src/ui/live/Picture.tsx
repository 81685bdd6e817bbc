'use client'
import { useEffect, useRef, useState } from 'react'
import type { Box } from '@/core/execution'
import type { LiveList } from '@/core/live'
import { keyOrder, leaves, mouseOrder, pointIn, type Input, type View } from './input'
import { OpenList } from './OpenList'

type Point = { x: number; y: number }
type Props = {
  canvas: React.RefObject<HTMLCanvasElement | null>
  view: View
  /** Input goes to the browser; else it is only watched. */
  driving: boolean
  /** A click says what is there, and does nothing to the page. */
  picking: boolean
  list: LiveList | null
  /** Where the selected step's target is. */
  box: Box | null
  cursors: readonly { id: number; name: string; x: number; y: number }[]
  onInput(order: Input): void
  /** `part`: a person drew around it. */
  onPick(part: { x: number; y: number; w?: number; h?: number }): void
  onPoint(x: number, y: number): void
  onChoose(values: string[]): void
}

/** The browser that is steered: its picture, and what is done on it. */
export function Picture(props: Props) {
  const { canvas, view, driving, picking, list, box, cursors } = props
  const { onInput, onPick, onPoint, onChoose } = props
  const typed = useRef<HTMLTextAreaElement>(null)
  const [drawn, setDrawn] = useState<{ from: Point; to: Point }>()
  const moving = useRef(0)
  const at = (event: { clientX: number; clientY: number }) =>
    pointIn(event, canvas.current!.getBoundingClientRect(), view)

  const press = (type: 'down' | 'up', event: React.MouseEvent<HTMLCanvasElement>) => {
    event.preventDefault()
    typed.current?.focus({ preventScroll: true })
    const { x, y } = at(event)
    if (picking && type === 'down') return setDrawn({ from: { x, y }, to: { x, y } })
    if (picking) {
      if (drawn) onPick(partOf(drawn.from, { x, y }))
      return setDrawn(undefined)
    }
    if (driving) onInput(mouseOrder(type, event, { x, y }))
  }
  const move = (event: React.MouseEvent<HTMLCanvasElement>) => {
    const { x, y } = at(event)
    const order = mouseOrder('move', event, { x, y })
    if (drawn) setDrawn({ ...drawn, to: { x, y } })
    // one for each picture that is drawn here: a mouse says more than anybody sees
    cancelAnimationFrame(moving.current)
    moving.current = requestAnimationFrame(() => (driving && !picking ? onInput(order) : onPoint(x, y)))
  }
  const key = (type: 'down' | 'up', event: React.KeyboardEvent) => {
    if (leaves(event)) return typed.current?.blur()
    const order = driving ? keyOrder(type, { ...keyOf(event) }) : undefined
    if (!order) return
    event.preventDefault()
    event.stopPropagation()
    onInput(order)
  }

  const wheel = useRef<(event: WheelEvent) => void>(undefined)
  useEffect(() => {
    wheel.current = (event) => {
      if (!driving) return
      event.preventDefault()
      onInput({ do: 'wheel', ...at(event), dx: Math.round(event.deltaX), dy: Math.round(event.deltaY) })
    }
  })
  useEffect(() => {
    // React listens to wheels passively, and the page would scroll, too
    const element = canvas.current
    const hear = (event: WheelEvent) => wheel.current?.(event)
    element?.addEventListener('wheel', hear, { passive: false })
    return () => element?.removeEventListener('wheel', hear)
  }, [canvas])

  const place = (part: { x: number; y: number; w?: number; h?: number }) => ({
    left: `${(part.x / view.width) * 100}%`,
    top: `${(part.y / view.height) * 100}%`,
    ...(part.w !== undefined && { width: `${(part.w / view.width) * 100}%` }),
    ...(part.h !== undefined && { height: `${(part.h / view.height) * 100}%` }),
  })
  return (
    <div
      className="relative mx-auto w-full"
      style={{ maxWidth: view.width, aspectRatio: `${view.width} / ${view.height}` }}
    >
      <canvas
        ref={canvas}
        width={view.width}
        height={view.height}
        role="img"
        aria-label="The browser, live"
        data-driving={driving}
        className={`absolute inset-0 size-full border border-line bg-surface ${cursorOf(driving, picking)}`}
        onMouseDown={(event) => press('down', event)}
        onMouseUp={(event) => press('up', event)}
        onMouseMove={move}
        onContextMenu={(event) => event.preventDefault()}
      />
      <textarea
        ref={typed}
        aria-label="What you type here goes to the browser; Shift and Escape leave it"
        className="absolute top-0 left-0 h-px w-px resize-none opacity-0"
        disabled={!driving}
        onKeyDown={(event) => key('down', event)}
        onKeyUp={(event) => key('up', event)}
        onCompositionEnd={(event) => {
          if (event.data !== '') onInput({ do: 'text', text: event.data })
          event.currentTarget.value = ''
        }}
        onPaste={(event) => {
          event.preventDefault()
          const text = event.clipboardData.getData('text/plain')
          if (text !== '') onInput({ do: 'text', text })
        }}
      />
      {box && (
        <span
          aria-hidden
          className="pointer-events-none absolute border-[3px] border-act"
          style={{ ...place(box), margin: -3, boxSizing: 'content-box' }}
        />
      )}
      {drawn && (
        <span
          aria-hidden
          className="pointer-events-none absolute border-2 border-dashed border-act"
          style={place({ w: 0, h: 0, ...partOf(drawn.from, drawn.to) })}
        />
      )}
      {cursors.map(({ id, name, x, y }) => (
        <span
          key={id}
          aria-hidden
          className="pointer-events-none absolute flex items-center gap-1"
          style={place({ x, y })}
        >
          <span className="size-2.5 rounded-full bg-running" />
          <span className="rounded-[4px] bg-running px-1 text-xs text-white">{name}</span>
        </span>
      ))}
      {list && driving && <OpenList list={list} style={place(list.box)} onChoose={onChoose} />}
    </div>
  )
}

/** A smaller one is a point that the hand did not hold. */
const PART_LEAST = 8

function partOf(from: Point, to: Point): { x: number; y: number; w?: number; h?: number } {
  const [w, h] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)]
  if (w < PART_LEAST || h < PART_LEAST) return from
  return { x: Math.min(from.x, to.x), y: Math.min(from.y, to.y), w, h }
}

const keyOf = ({ key, code, shiftKey, ctrlKey, altKey, metaKey, nativeEvent }: React.KeyboardEvent) => ({
  key,
  code,
  shiftKey,
  ctrlKey,
  altKey,
  metaKey,
  isComposing: nativeEvent.isComposing,
})

function cursorOf(driving: boolean, picking: boolean): string {
  if (picking) return 'cursor-crosshair'
  return driving ? '' : 'cursor-not-allowed'
}

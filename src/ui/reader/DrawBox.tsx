'use client'
import { useRef } from 'react'
import type { Box, Screen } from '@/core/execution'
import { EvidenceImage } from '../base/EvidenceImage'

/** The screen, on which a box is drawn with the pointer. The numbers beneath do the same by keys. */
export function DrawBox({
  screen,
  box,
  onBox,
  label,
  also = [],
}: {
  screen: Pick<Screen, 'hash' | 'width' | 'height'>
  box: Box
  onBox(box: Box): void
  label: string
  /** Drawn before, shown beneath. */
  also?: readonly Box[]
}) {
  const image = useRef<HTMLImageElement>(null)
  const start = useRef<{ x: number; y: number }>(undefined)
  const at = (event: React.PointerEvent) => {
    const frame = image.current!.getBoundingClientRect()
    const place = (offset: number, length: number, pixels: number) =>
      Math.round(Math.min(1, Math.max(0, offset / length)) * pixels)
    return {
      x: place(event.clientX - frame.left, frame.width, screen.width),
      y: place(event.clientY - frame.top, frame.height, screen.height),
    }
  }
  const draw = (event: React.PointerEvent) => {
    if (!start.current) return
    const [from, to] = [start.current, at(event)]
    onBox({
      x: Math.min(from.x, to.x),
      y: Math.min(from.y, to.y),
      w: Math.abs(to.x - from.x),
      h: Math.abs(to.y - from.y),
    })
  }
  const share = (value: number, of: number) => `${(value / of) * 100}%`
  return (
    <div
      className="relative mx-auto w-fit cursor-crosshair touch-none overflow-hidden border border-line select-none"
      data-testid="draw-box"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        start.current = at(event)
      }}
      onPointerMove={draw}
      onPointerUp={(event) => {
        draw(event)
        start.current = undefined
      }}
    >
      <EvidenceImage
        ref={image}
        hash={screen.hash}
        alt={label}
        draggable={false}
        className="block max-h-[52vh] max-w-full"
        style={{ aspectRatio: `${screen.width} / ${screen.height}` }}
      />
      {also.map((one, i) => (
        <span
          key={i}
          aria-hidden
          className="pointer-events-none absolute border border-errored bg-errored/30"
          style={{
            left: share(one.x, screen.width),
            top: share(one.y, screen.height),
            width: share(one.w, screen.width),
            height: share(one.h, screen.height),
          }}
        />
      ))}
      {box.w > 0 && box.h > 0 && (
        <span
          aria-hidden
          className="pointer-events-none absolute border-2 border-act"
          style={{
            left: share(box.x, screen.width),
            top: share(box.y, screen.height),
            width: share(box.w, screen.width),
            height: share(box.h, screen.height),
            boxShadow: '0 0 0 9999px rgb(0 0 0 / 0.35)',
          }}
        />
      )}
    </div>
  )
}

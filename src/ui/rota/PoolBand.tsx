'use client'
import { useRef } from 'react'
import { describeDuration } from '@/core/model'
import { loadCurve } from '@/core/rota'
import type { RotaClash, RotaOccurrence, RotaViewModel } from '@/core/view-models'
import { plural } from '@/core/view-models'
import { clock, exact } from '../base/Time'
import { useWidth } from '../base/useWidth'
import { BLOCK_LEAST_PX, layBand, type Block } from './band-layout'
import { percentOf, type Span } from './span'

/** Width of a band until it is measured. */
const USUAL_PX = 1000
const ROW_PX = 36
const BLOCK_PX = 20
const CURVE_PX = 44
/** Hues for rotations: none of them is that of an outcome that went wrong. */
const FILLS = ['#2e7d6b', '#2c6cb0', '#a8763a', '#76498f', '#4d7a52', '#7b6f9c', '#8a6f5a', '#3d7f8c']
export const fillOf = (keys: readonly string[], key: string) =>
  FILLS[Math.max(0, keys.indexOf(key)) % FILLS.length]!

type Props = {
  pool: { id: string; seats: number }
  viewModel: RotaViewModel
  span: Span
  selected: string | null
  editable: boolean
  onSelect(id: string): void
  onDrag(occurrence: RotaOccurrence, to: Date): void
}

/** One pool over time: its starts as blocks as long as their forecast, and below how many of its seats they
 * want. */
export function PoolBand({ pool, viewModel, span, selected, editable, onSelect, onDrag }: Props) {
  const own = viewModel.occurrences.filter((one) => (one.seats[pool.id] ?? 0) > 0)
  const [band, bandPx] = useWidth<HTMLDivElement>(USUAL_PX)
  const { blocks, rows } = layBand(own, span, bandPx)
  if (own.length === 0)
    return (
      <section
        aria-label={`Pool ${pool.id}`}
        className="grid grid-cols-[112px_minmax(0,1fr)] items-baseline border-b border-line py-2"
      >
        <h2 className="pl-[18px] font-display text-[15px] leading-[19px]">{pool.id}</h2>
        <p className="pl-1 text-sm text-soft">
          <span className="relative bg-surface pr-1">
            {plural(pool.seats, 'seat')}, nothing planned on them
          </span>
        </p>
      </section>
    )
  const clashes = viewModel.clashes.filter((clash) => clash.pool === pool.id)
  const keys = viewModel.rotations.map(({ key }) => key)
  return (
    <section
      aria-label={`Pool ${pool.id}`}
      className="grid grid-cols-[112px_minmax(0,1fr)] border-b border-line"
    >
      <header className="pt-2 pr-2 pl-[18px]">
        <h2 className="font-display text-[15px] leading-[19px]">{pool.id}</h2>
        <p className="text-xs text-soft">{pool.seats === 0 ? 'no seats now' : plural(pool.seats, 'seat')}</p>
      </header>
      <div ref={band} className="relative" style={{ height: 8 + rows * ROW_PX + CURVE_PX + 8 }}>
        <ul aria-label={`Starts on ${pool.id}`}>
          {blocks.map((block) => (
            <StartBlock
              key={block.starts[0]!.id}
              block={block}
              fill={fillOf(keys, block.starts[0]!.rotation)}
              span={span}
              selected={block.starts.some(({ id }) => id === selected)}
              editable={editable}
              onSelect={onSelect}
              onDrag={onDrag}
            />
          ))}
        </ul>
        {clashes.map((clash) => (
          <ClashMark key={`${clash.from} ${clash.ids.join()}`} clash={clash} span={span} />
        ))}
        <Curve pool={pool} occurrences={own} span={span} top={8 + rows * ROW_PX} />
      </div>
    </section>
  )
}

function StartBlock({
  block,
  fill,
  span,
  selected,
  editable,
  onSelect,
  onDrag,
}: {
  block: Block
  fill: string
  span: Span
  selected: boolean
  editable: boolean
  onSelect(id: string): void
  onDrag(occurrence: RotaOccurrence, to: Date): void
}) {
  const held = useRef<{ x: number; width: number; moved: boolean } | undefined>(undefined)
  const box = useRef<HTMLButtonElement>(null)
  const one = block.starts[0]!
  const count = block.starts.length
  const movable = editable && count === 1 && one.state === 'planned' && !one.behind
  const words = count === 1 ? startWords(one) : manyWords(block.starts)
  const hasFailed = block.starts.some(({ outcome }) => outcome?.passed === false)
  const target = (dx: number) =>
    new Date(
      Math.round(
        (Date.parse(one.at) + (dx / held.current!.width) * (span.to.getTime() - span.from.getTime())) /
          span.snapMs,
      ) * span.snapMs,
    )
  const missed = one.state === 'skipped' || one.state === 'failed'
  return (
    <li
      className="absolute"
      style={{
        left: `${block.left}%`,
        top: 8 + block.row * ROW_PX,
        width: `${block.solid + block.faint}%`,
        minWidth: BLOCK_LEAST_PX,
      }}
    >
      <button
        ref={box}
        type="button"
        title={words}
        aria-label={words}
        aria-pressed={selected}
        data-start={one.id}
        onClick={() => {
          if (!held.current?.moved) onSelect(one.id)
          held.current = undefined
        }}
        onPointerDown={(event) => {
          if (!movable) return
          held.current = {
            x: event.clientX,
            width:
              box.current!.closest('[data-timeline]')?.clientWidth ??
              box.current!.parentElement!.parentElement!.parentElement!.clientWidth,
            moved: false,
          }
          event.currentTarget.setPointerCapture(event.pointerId)
        }}
        onPointerMove={(event) => {
          const start = held.current
          if (!start || event.buttons === 0) return
          if (Math.abs(event.clientX - start.x) > 4) start.moved = true
          if (start.moved) {
            box.current!.style.transform = `translateX(${event.clientX - start.x}px)`
            box.current!.dataset.to = clock(target(event.clientX - start.x))
          }
        }}
        onPointerUp={(event) => {
          const start = held.current
          if (!start?.moved) return
          box.current!.style.transform = ''
          delete box.current!.dataset.to
          onDrag(one, target(event.clientX - start.x))
        }}
        className={
          'drag-to relative flex w-full overflow-visible rounded-[3px] ' +
          `${movable ? 'cursor-grab active:cursor-grabbing' : ''} ` +
          `${selected ? 'outline-2 outline-offset-1 outline-act' : ''}`
        }
        style={{ height: BLOCK_PX }}
      >
        {missed ? (
          <span className="hatched h-full w-full min-w-[6px] rounded-[3px] border border-dashed border-failed" />
        ) : (
          <>
            <span
              className={`fill-lift h-full rounded-l-[3px] ${hasFailed ? 'border-b-[3px] border-failed' : ''}`}
              style={{
                background: fill,
                opacity: one.state === 'planned' ? 0.82 : 1,
                flexGrow: Math.max(block.solid, 0.01),
                minWidth: 3,
              }}
            />
            <span
              className="fill-lift h-full rounded-r-[3px]"
              style={{ background: fill, opacity: 0.32, flexGrow: block.faint }}
            />
          </>
        )}
      </button>
      {block.namePx !== undefined && (
        <span
          className="pointer-events-none absolute top-[20px] left-0 truncate text-[10.5px] leading-[14px]"
          style={{ maxWidth: block.namePx }}
          aria-hidden
        >
          {count > 1 && <b className="font-semibold">{count} × </b>}
          {one.title}
          {missed && (
            <span className="text-failed"> {one.state === 'failed' ? 'did not start' : 'skipped'}</span>
          )}
        </span>
      )}
    </li>
  )
}

const startWords = (one: RotaOccurrence): string =>
  `${one.title}, ${exact(one.at)}: ${factsOf(one)}${one.note ? `; ${one.note}` : ''}`

/** Of several starts in one block. */
function manyWords(starts: readonly RotaOccurrence[]): string {
  const [first, last] = [starts[0]!, starts.at(-1)!]
  const failed = starts.filter(({ outcome }) => outcome?.passed === false).length
  return (
    `${first.title}, ${plural(starts.length, 'start')} from ${exact(first.at)} to ` +
    `${exact(last.at)}${failed > 0 ? `, ${failed} with failures` : ''}`
  )
}

/** What is forecast of a start, or what it took and how it went. */
function factsOf({ state, p50Ms, p90Ms, at, endedAt, outcome }: RotaOccurrence): string {
  if (state === 'planned')
    return `about ${describeDuration(p50Ms)}, nine times in ten within ${describeDuration(p90Ms)}`
  if (endedAt === null || outcome === undefined) return state
  return `took ${describeDuration(Date.parse(endedAt) - Date.parse(at))}: ${outcome.words}`
}

function ClashMark({ clash, span }: { clash: RotaClash; span: Span }) {
  const [from, to] = [percentOf(span, Date.parse(clash.from)), percentOf(span, Date.parse(clash.to))]
  return (
    <div
      aria-hidden
      title={`${clash.need} seats wanted, ${clash.have} there`}
      className="clash-hatch pointer-events-none absolute top-0 bottom-0 border-x border-failed/50"
      style={{ left: `${from}%`, width: `max(3px, ${to - from}%)` }}
    />
  )
}

function Curve({
  pool,
  occurrences,
  span,
  top,
}: {
  pool: { id: string; seats: number }
  occurrences: readonly RotaOccurrence[]
  span: Span
  top: number
}) {
  const asked = occurrences
    .filter(({ state }) => state === 'planned' || state === 'started')
    .map((one) =>
      one.endedAt
        ? {
            ...one,
            p50Ms: Date.parse(one.endedAt) - Date.parse(one.at),
            p90Ms: Date.parse(one.endedAt) - Date.parse(one.at),
          }
        : one,
    )
  const corners = loadCurve(asked, pool.id, span.from.getTime(), span.to.getTime())
  const most = Math.max(pool.seats, 1, ...corners.map(([, seats]) => seats)) * 1.08
  const y = (seats: number) => CURVE_PX - (seats / most) * (CURVE_PX - 4)
  const points = corners.map(([at, seats]) => `${percentOf(span, at)},${y(seats)}`).join(' ')
  const peak = Math.max(0, ...corners.map(([, seats]) => seats))
  return (
    <div className="absolute right-0 left-0" style={{ top, height: CURVE_PX }}>
      <svg
        viewBox={`0 0 100 ${CURVE_PX}`}
        preserveAspectRatio="none"
        width="100%"
        height={CURVE_PX}
        role="img"
        aria-label={`Seats wanted of ${pool.id}: at most ${Math.round(peak)} of ${pool.seats}`}
      >
        <polygon points={`0,${CURVE_PX} ${points} 100,${CURVE_PX}`} className="fill-line/70" />
        <polyline
          points={points}
          className="fill-none stroke-soft"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
        {pool.seats > 0 && (
          <line
            x1="0"
            x2="100"
            y1={y(pool.seats)}
            y2={y(pool.seats)}
            className={peak > pool.seats ? 'stroke-failed' : 'stroke-faint'}
            strokeWidth="1"
            strokeDasharray="3 3"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      {pool.seats > 0 && (
        <span
          className="absolute right-1 text-[9.5px] text-soft"
          style={{ top: y(pool.seats) - 12 }}
          aria-hidden
        >
          all {pool.seats}
        </span>
      )}
    </div>
  )
}

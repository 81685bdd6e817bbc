'use client'
import Link from 'next/link'
import { useRef, useState } from 'react'
import { describeCounts } from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { DayStripViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { MixBar } from '../base/MixBar'
import { clock, useNow } from '../base/Time'

const HOUR_MS = 3_600_000
const HALF_WINDOW_MS = 12 * HOUR_MS
const FARTHEST_MS = 7 * 24 * HOUR_MS
/** The window asked for is a whole number of hours, so that moving a little asks nothing new. */
const roundHour = (ms: number) => Math.floor(ms / HOUR_MS) * HOUR_MS
const LABEL_SPACE_PERCENT = 7

type Placed = DayStripViewModel['runs'][number] & { left: number; width: number; row: 0 | 1; label: boolean }

/** Past runs as bars in their mix, live ones filling up, and the agents: the same on every view. */
export function DayStrip({ initial, startedAt }: { initial: DayStripViewModel; startedAt: number }) {
  const now = useNow()?.getTime() ?? startedAt
  const [shift, setShift] = useState(0)
  const drag = useRef<{ x: number; shift: number } | undefined>(undefined)
  const from = roundHour(now + shift - HALF_WINDOW_MS) - HOUR_MS
  const to = roundHour(now + shift + HALF_WINDOW_MS) + 2 * HOUR_MS
  const { data = initial } = useViewModel<DayStripViewModel>(
    `/api/day-strip?from=${new Date(from).toISOString()}&to=${new Date(to).toISOString()}`,
    ['run', 'fleet', 'rota', 'definitions'],
  )
  const start = now + shift - HALF_WINDOW_MS
  const percent = (ms: number) => ((ms - start) / (2 * HALF_WINDOW_MS)) * 100
  const pan = (ms: number) => setShift((old) => Math.max(-FARTHEST_MS, Math.min(FARTHEST_MS, old + ms)))
  const hours = Array.from({ length: 25 }, (_, i) => roundHour(start) + i * HOUR_MS).filter(
    (hour) => hour >= start,
  )

  return (
    <section
      aria-label="Day strip: runs of the last and next twelve hours"
      className="flex h-[50px] shrink-0 border-b border-line bg-surface"
    >
      <div
        className="relative min-w-0 flex-1 overflow-hidden select-none"
        onWheel={(event) => pan((event.deltaX || event.deltaY) * HOUR_MS * 0.01)}
        onDoubleClick={() => setShift(0)}
        onPointerDown={(event) => (drag.current = { x: event.clientX, shift })}
        onPointerMove={(event) => {
          const held = drag.current
          if (!held || event.buttons === 0) return
          const pixels = event.clientX - held.x
          if (Math.abs(pixels) > 3)
            setShift(held.shift - (pixels / event.currentTarget.clientWidth) * 2 * HALF_WINDOW_MS)
        }}
        onPointerUp={() => (drag.current = undefined)}
      >
        {hours.map((hour) => {
          const local = new Date(hour).getHours()
          return (
            <div
              key={hour}
              className={`absolute top-0 border-l border-line ${local % 3 === 0 ? 'h-full' : 'h-[5px]'}`}
              style={{ left: `${percent(hour)}%` }}
            >
              {local % 3 === 0 && (
                <span suppressHydrationWarning className="pl-1 text-[10px] leading-3 text-soft">
                  {String(local).padStart(2, '0')}
                </span>
              )}
            </div>
          )
        })}
        {data.blackouts.map(({ from: begin, to: end, title }) => (
          <div
            key={`${begin} ${title}`}
            title={title}
            className="absolute top-0 bottom-0 bg-line/45"
            style={{
              left: `${percent(Date.parse(begin))}%`,
              width: `${percent(Date.parse(end)) - percent(Date.parse(begin))}%`,
            }}
          />
        ))}
        {place(data.runs, percent, now).map((run) => (
          <RunBar key={run.id} run={run} />
        ))}
        {planned(data.planned, place(data.runs, percent, now), percent, now).map((one) => (
          <PlannedBar key={one.id} one={one} />
        ))}
        {data.clashes.map(({ from: begin, to: end, need, have, pool, ids }) => (
          <div
            key={`${begin} ${ids.join()}`}
            title={`clash on ${pool}: ${need} seats wanted, ${have} there`}
            className="clash-hatch pointer-events-none absolute top-[12px] h-[24px]"
            style={{
              left: `${percent(Date.parse(begin))}%`,
              width: `max(5px, ${percent(Date.parse(end)) - percent(Date.parse(begin))}%)`,
            }}
          />
        ))}
        <div
          className="pointer-events-none absolute top-0 bottom-0 w-px bg-ink"
          style={{ left: `${percent(now)}%` }}
        >
          <span
            suppressHydrationWarning
            className="absolute bottom-0 -translate-x-1/2 rounded-[2px] bg-ink px-1 font-mono text-[10px] leading-[13px] text-ground"
          >
            {clock(new Date(now))}
          </span>
        </div>
        {shift !== 0 && (
          <button
            type="button"
            onClick={() => setShift(0)}
            className="absolute right-2 bottom-1 text-[11px] text-act underline"
          >
            back to now
          </button>
        )}
      </div>
      <Link
        href="/fleet"
        className="flex w-[138px] shrink-0 flex-col justify-center border-l border-line px-3.5 whitespace-nowrap hover:bg-act-wash"
      >
        <span className="text-[12.5px] leading-4 font-semibold">
          {data.agents.alive} of {data.agents.all} agents
        </span>
        <span className="text-[11px] leading-4 text-soft">
          {data.agents.seatsBusy} of {data.agents.seats} seats busy
        </span>
      </Link>
    </section>
  )
}

function RunBar({ run }: { run: Placed }) {
  const live = run.state !== 'ended'
  const forecast = run.finish ? `; ends about ${clock(run.finish.p50)}` : ''
  const end = run.endedAt ? `; ended ${clock(run.endedAt)}` : forecast
  const words = `${run.title}, build ${run.build}: ${describeCounts(run.counts)}${end}`
  return (
    <Link
      href={`/runs/${run.id}`}
      title={words}
      aria-label={words}
      draggable={false}
      className="group absolute"
      style={{ left: `${run.left}%`, width: `${run.width}%`, minWidth: 9, top: run.row === 0 ? 13 : 25 }}
    >
      <MixBar
        counts={run.counts}
        className={`h-[10px] group-hover:brightness-110 ${live ? 'ring-1 ring-running' : ''}`}
      />
      {run.label && (
        <span className="absolute top-[11px] left-0 max-w-[150px] truncate text-[10.5px] leading-[13px] text-soft group-hover:text-ink">
          {run.title}
        </span>
      )}
    </Link>
  )
}

type Coming = DayStripViewModel['planned'][number] & {
  left: number
  width: number
  row: 0 | 1
  label: boolean
}

/** A start to come: outlined, as long as its forecast. */
function PlannedBar({ one }: { one: Coming }) {
  const words = `${one.title}, planned for ${clock(one.at)}, about ${describeDuration(one.p50Ms)}`
  return (
    <Link
      href={`/rota?view=day&day=${dayOf(one.at)}&start=${encodeURIComponent(one.id)}`}
      title={words}
      aria-label={words}
      draggable={false}
      className="group absolute"
      style={{ left: `${one.left}%`, width: `${one.width}%`, minWidth: 9, top: one.row === 0 ? 13 : 25 }}
    >
      <span className="block h-[10px] rounded-[2px] border border-soft bg-surface group-hover:border-ink" />
      {one.label && (
        <span className="absolute top-[11px] left-0 max-w-[150px] truncate text-[10.5px] leading-[13px] text-soft group-hover:text-ink">
          {one.title}
        </span>
      )}
    </Link>
  )
}

const dayOf = (instant: string) => {
  const date = new Date(instant)
  return `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`
}

function planned(
  starts: DayStripViewModel['planned'],
  runs: readonly Placed[],
  percent: (ms: number) => number,
  now: number,
): Coming[] {
  const ends = [-Infinity, -Infinity]
  const coming = starts.filter(({ at }) => Date.parse(at) > now).toSorted((a, b) => (a.at < b.at ? -1 : 1))
  return coming.map((one, i): Coming => {
    const left = percent(Date.parse(one.at))
    const width = Math.max(percent(Date.parse(one.at) + one.p50Ms) - left, 0.7)
    const row = left >= ends[0]! || ends[0]! <= ends[1]! ? 0 : 1
    ends[row] = left + width + 0.15
    const near = coming.some(
      (other, j) =>
        j !== i &&
        Math.abs(percent(Date.parse(other.at)) - left) < LABEL_SPACE_PERCENT &&
        (j < i ? other.rotation === one.rotation || row === 1 : true),
    )
    const behind = runs.some(
      (run) => run.label && run.left + LABEL_SPACE_PERCENT + 1 > left && run.left < left + width,
    )
    return { ...one, left, width, row, label: row === 0 && !near && !behind }
  })
}

/** Bars that would lie on each other take the second row; a name is written where there is room for it. */
function place(runs: DayStripViewModel['runs'], percent: (ms: number) => number, now: number): Placed[] {
  const ends = [-Infinity, -Infinity]
  const placed = runs.map((run): Placed => {
    const left = percent(new Date(run.startedAt ?? run.createdAt).getTime())
    const end = percent(
      run.endedAt
        ? new Date(run.endedAt).getTime()
        : Math.max(now, run.finish ? new Date(run.finish.p50).getTime() : now),
    )
    const width = Math.max(end - left, 0.7)
    const row = left >= ends[0]! || ends[0]! <= ends[1]! ? 0 : 1
    ends[row] = left + width + 0.15
    return { ...run, left, width, row, label: row === 0 }
  })
  return placed.map((run, i) => {
    const next = placed.slice(i + 1).find(({ label }) => label)
    const blocked = placed.some(
      (other) =>
        other.row === 1 && other.left + other.width > run.left && other.left < run.left + LABEL_SPACE_PERCENT,
    )
    return { ...run, label: run.label && !blocked && (!next || next.left - run.left > LABEL_SPACE_PERCENT) }
  })
}

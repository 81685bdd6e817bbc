'use client'
import Link from '../base/Link'
import { useRef, useState } from 'react'
import { describeCounts } from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { DayStripViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { MixBar } from '../base/MixBar'
import { clock, useNow } from '../base/Time'
import { useWidth } from '../base/useWidth'
import { layStrip, type Bar, type Laid } from './strip-layout'

const HOUR_MS = 3_600_000
const HALF_WINDOW_MS = 12 * HOUR_MS
/** Width until it is measured: of a window of 1280 pixels. */
const USUAL_PX = 1080
const FARTHEST_MS = 7 * 24 * HOUR_MS
/** The window asked for is a whole number of hours, so that moving a little asks nothing new. */
const roundHour = (ms: number) => Math.floor(ms / HOUR_MS) * HOUR_MS
type Run = DayStripViewModel['runs'][number]
type Coming = DayStripViewModel['planned'][number]
type Shown = { run: Run } | { coming: Coming }

/** Past runs as bars in their mix, live ones filling up, and the agents: the same on every view. */
export function DayStrip({ initial, startedAt }: { initial: DayStripViewModel; startedAt: number }) {
  const now = useNow()?.getTime() ?? startedAt
  const [shift, setShift] = useState(0)
  const drag = useRef<{ x: number; shift: number } | undefined>(undefined)
  const [strip, width] = useWidth<HTMLDivElement>(USUAL_PX)
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
      className="flex h-[50px] shrink-0 border-b border-line bg-surface print:hidden"
    >
      <div
        ref={strip}
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
        {layStrip(shown(data, percent, now), percent(now), width).map((bar) =>
          'run' in bar ? (
            <RunBar key={bar.run.id} run={bar.run} bar={bar} />
          ) : (
            <PlannedBar key={bar.coming.id} one={bar.coming} bar={bar} />
          ),
        )}
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

/** A bar at its place, with its name below where there is room. */
function StripLink({
  bar: { left, width, row, labelPx, title },
  href,
  words,
  children,
}: {
  bar: Laid<unknown>
  href: string
  words: string
  children: React.ReactNode
}) {
  return (
    <Link
      href={href}
      title={words}
      aria-label={words}
      draggable={false}
      className="group absolute"
      style={{ left: `${left}%`, width: `${width}%`, minWidth: 9, top: row === 0 ? 13 : 25 }}
    >
      {children}
      {labelPx !== undefined && (
        <span
          className="absolute top-[11px] left-0 truncate text-[10.5px] leading-[13px] text-soft group-hover:text-ink"
          style={{ maxWidth: labelPx }}
        >
          {title}
        </span>
      )}
    </Link>
  )
}

function RunBar({ run, bar }: { run: Run; bar: Laid<unknown> }) {
  const live = run.state !== 'ended'
  const forecast = run.finish ? `; ends about ${clock(run.finish.p50)}` : ''
  const end = run.endedAt ? `; ended ${clock(run.endedAt)}` : forecast
  const words = `${run.title}, build ${run.build}: ${describeCounts(run.counts)}${end}`
  return (
    <StripLink bar={bar} href={`/runs/${run.id}`} words={words}>
      <MixBar
        counts={run.counts}
        className={`h-[10px] group-hover:brightness-110 ${live ? 'ring-1 ring-running' : ''}`}
      />
    </StripLink>
  )
}

/** A start to come: outlined, as long as its forecast. */
function PlannedBar({ one, bar }: { one: Coming; bar: Laid<unknown> }) {
  const words = `${one.title}, planned for ${clock(one.at)}, about ${describeDuration(one.p50Ms)}`
  const href = `/rota?view=day&day=${dayOf(one.at)}&start=${encodeURIComponent(one.id)}`
  return (
    <StripLink bar={bar} href={href} words={words}>
      <span className="block h-[10px] rounded-[2px] border border-soft bg-surface group-hover:border-ink" />
    </StripLink>
  )
}

const dayOf = (instant: string) => {
  const date = new Date(instant)
  const [month, day] = [date.getMonth() + 1, date.getDate()].map((part) => String(part).padStart(2, '0'))
  return `${date.getFullYear()}-${month}-${day}`
}

/** What ran, what runs until its likely end, and what is to come, at their places. */
function shown(
  { runs, planned }: Pick<DayStripViewModel, 'runs' | 'planned'>,
  percent: (ms: number) => number,
  now: number,
): (Shown & Bar)[] {
  const at = (instant: string) => percent(Date.parse(instant))
  return [
    ...runs.map((run) => {
      const left = at(run.startedAt ?? run.createdAt)
      const likely = Math.max(now, run.finish ? Date.parse(run.finish.p50) : now)
      const end = run.endedAt ? at(run.endedAt) : percent(likely)
      return { run, left, width: end - left, title: run.title }
    }),
    ...planned
      .filter((one) => Date.parse(one.at) > now)
      .map((coming) => {
        const left = at(coming.at)
        return {
          coming,
          left,
          width: percent(Date.parse(coming.at) + coming.p50Ms) - left,
          title: coming.title,
        }
      }),
  ]
}

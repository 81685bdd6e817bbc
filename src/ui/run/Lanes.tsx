'use client'
import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import type { Lane, LaneBar, RunForecast } from '@/core/view-models'
import { MARK_FILL, MARK_WORDS } from '../base/Mark'
import { Simulated } from '../base/Parts'
import { clock, useNow } from '../base/Time'

const TICKS = 6
/** What runs is drawn at least this far ahead, so that its expected end is in view. */
const AHEAD = 1.02

/** Seats over time: which did what, and when; behind it, dashed, what was planned. What runs shows its
 * expected rest as a ghost. */
export function Lanes({
  lanes: actual,
  forecast,
  begun,
  selected,
}: {
  lanes: Lane[]
  forecast: RunForecast | null
  begun: string
  selected: string | null
}) {
  const now = useNow(2000)?.getTime()
  const planned = new Map((forecast?.lanes ?? []).map((lane) => [`${lane.agent} ${lane.seat}`, lane.items]))
  const lanes = [
    ...actual,
    ...(forecast?.lanes ?? [])
      .filter((lane) => !actual.some(({ agent, seat }) => agent === lane.agent && seat === lane.seat))
      .map(({ agent, seat }): Lane => ({ agent, seat, simulated: false, bars: [] })),
  ]
  const bars = lanes.flatMap((lane) => lane.bars)
  if (bars.length === 0) return <p className="p-6 text-soft">No seat has taken anything of this run yet.</p>
  const zero = Date.parse(begun)
  const start = Math.min(zero, ...bars.map(({ from }) => Date.parse(from)))
  const plannedEnd = Math.max(
    0,
    ...(forecast?.lanes ?? []).flatMap(({ items }) => items.map(([, , , end]) => zero + end)),
  )
  const endOf = (bar: LaneBar) =>
    bar.to ? Date.parse(bar.to) : Math.max(now ?? 0, Date.parse(bar.from) + bar.estimateMs)
  const span = Math.max(1000, (Math.max(plannedEnd, ...bars.map(endOf)) - start) * AHEAD)
  const percent = (ms: number) => ((ms - start) / span) * 100
  return (
    <div className="overflow-auto bg-surface" role="region" aria-label="Lanes" tabIndex={0}>
      <div className="sticky top-0 z-10 ml-[150px] h-6 border-b border-line bg-surface">
        {Array.from({ length: TICKS + 1 }, (_, i) => start + (span * i) / TICKS).map((at, i) => (
          <span
            key={i}
            suppressHydrationWarning
            className="absolute border-l border-line pl-1 text-[10.5px] leading-6 text-soft"
            style={{ left: `${percent(at)}%` }}
          >
            {i < TICKS && `${clock(new Date(at))} +${describeDuration(at - start)}`}
          </span>
        ))}
      </div>
      {lanes.map((lane) => (
        <div
          key={`${lane.agent} ${lane.seat}`}
          className="flex h-[30px] items-center border-b border-line/70"
        >
          <span className="w-[150px] shrink-0 truncate px-[18px] text-sm">
            {lane.agent}
            <span className="text-soft"> · {lane.seat}</span> {lane.simulated && <Simulated short />}
          </span>
          <span className="relative h-full flex-1">
            {planned.get(`${lane.agent} ${lane.seat}`)?.map(([position, environment, from, to]) => (
              <span
                key={`${position} ${environment}`}
                aria-hidden
                className="absolute top-[3px] h-[24px] rounded-[3px] border border-dashed border-faint/70"
                style={{
                  left: `${percent(zero + from)}%`,
                  width: `max(2px, calc(${percent(zero + to) - percent(zero + from)}% - 1px))`,
                }}
              />
            ))}
            {lane.bars.map((bar) => (
              <Bar
                key={bar.attemptId}
                bar={bar}
                left={percent(Date.parse(bar.from))}
                width={percent(endOf(bar)) - percent(Date.parse(bar.from))}
                live={bar.to === null}
                selected={bar.attemptId === selected}
              />
            ))}
          </span>
        </div>
      ))}
    </div>
  )
}

function Bar({
  bar,
  left,
  width,
  live,
  selected,
}: {
  bar: LaneBar
  left: number
  width: number
  live: boolean
  selected: boolean
}) {
  const words =
    `${bar.title}, ${bar.environment}${bar.number > 1 ? `, attempt ${bar.number}` : ''}: ` +
    `${MARK_WORDS[bar.mark]}`
  return (
    <Link
      href={`/attempts/${bar.attemptId}`}
      title={words}
      aria-label={words}
      style={{ left: `${left}%`, width: `max(3px, calc(${width}% - 1px))` }}
      className={
        'absolute top-[6px] h-[18px] overflow-hidden rounded-[3px] ' +
        `${live ? 'border border-running bg-running/25' : MARK_FILL[bar.mark]} ` +
        `${selected ? 'outline-2 outline-act' : ''} hover:brightness-110`
      }
    />
  )
}

'use client'
import { describeDuration, type Environment } from '@/core/model'
import type { Outlook } from '@/core/rota'

/** Hues of the marks and the paper, so that environments differ without meaning an outcome. */
const FILLS = ['#7f9bbd', '#b7a27c', '#8aa886', '#a78bb5', '#5c9a8e', '#c08f83', '#8d93a8', '#a9a25e']
const ROW_PX = 15
const NAME_PX = 74
const WIDTH = 296
/** More lanes than this are drawn as the first of them, and said to be more. */
const LANES_MOST = 22

export const fillOf = (keys: readonly string[], key: string) =>
  FILLS[Math.max(0, keys.indexOf(key)) % FILLS.length]!

/** The plan as it would be carried out: a line a seat, a block a case run in the colour of its
 * environment. */
export function LanesPicture({
  outlook,
  environments,
}: {
  outlook: Outlook
  environments: readonly Environment[]
}) {
  const { lanes, makespanMs, picked } = outlook
  const shown = [...lanes]
    .sort((a, b) => Number(a.agent > b.agent) - Number(a.agent < b.agent) || a.seat - b.seat)
    .slice(0, LANES_MOST)
  const start = Math.min(...lanes.flatMap(({ items }) => items.map(({ startMs }) => startMs)))
  const x = (ms: number) => NAME_PX + ((ms - start) / Math.max(1, makespanMs)) * (WIDTH - NAME_PX - 2)
  const height = shown.length * ROW_PX
  const used = picked.keys.filter((key) => lanes.some((lane) => lane.environments.includes(key)))
  return (
    <figure aria-label={`The plan: ${lanes.length} seats, done after ${describeDuration(makespanMs)}`}>
      <svg
        viewBox={`0 0 ${WIDTH} ${height + 16}`}
        width="100%"
        role="img"
        aria-label={shown.map(({ agent, seat, items }) => `${agent} ${seat}: ${items.length}`).join(', ')}
      >
        {shown.map((lane, row) => (
          <g key={`${lane.agent} ${lane.seat}`}>
            <text x={0} y={row * ROW_PX + 11} className="fill-soft text-[9.5px]">
              {lane.agent.slice(0, 11)}
              {lane.seat > 1 ? ` ·${lane.seat}` : ''}
            </text>
            {lane.items.map(({ work, startMs, endMs }, i) => (
              <rect
                key={work}
                x={x(startMs)}
                y={row * ROW_PX + 2.5}
                width={Math.max(0.6, x(endMs) - x(startMs) - 0.5)}
                height={ROW_PX - 5}
                rx={1}
                fill={fillOf(picked.keys, lane.environments[i]!)}
              />
            ))}
          </g>
        ))}
        <line
          x1={x(start + makespanMs)}
          x2={x(start + makespanMs)}
          y1={0}
          y2={height}
          className="stroke-ink"
          strokeDasharray="2 2"
        />
        <text x={NAME_PX} y={height + 12} className="fill-soft text-[9.5px]">
          start
        </text>
        <text x={WIDTH} y={height + 12} textAnchor="end" className="fill-ink text-[9.5px]">
          {describeDuration(makespanMs)}
        </text>
      </svg>
      {lanes.length > shown.length && (
        <p className="text-xs text-soft">and {lanes.length - shown.length} seats more</p>
      )}
      <figcaption className="flex flex-wrap gap-x-2.5 text-[11px] text-soft">
        {used.map((key) => (
          <span key={key} className="inline-flex items-center gap-1">
            <span
              className="size-2 rounded-[2px]"
              style={{ background: fillOf(picked.keys, key) }}
              aria-hidden
            />
            {environments.find((one) => one.key === key)?.title ?? key}
          </span>
        ))}
      </figcaption>
    </figure>
  )
}

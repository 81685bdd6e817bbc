'use client'
import { addDays } from 'date-fns'
import type { RotaOccurrence, RotaViewModel } from '@/core/view-models'
import { clock } from '../base/Time'
import { PoolBand } from './PoolBand'
import { percentOf, type Span } from './span'
import { Hint } from '../base/Hint'

type Props = {
  viewModel: RotaViewModel
  span: Span
  now: Date
  selected: string | null
  editable: boolean
  onSelect(id: string): void
  onDrag(occurrence: RotaOccurrence, to: Date): void
}

/** Time across, pools down. */
export function Timeline({ viewModel, span, now, selected, editable, onSelect, onDrag }: Props) {
  const pools = viewModel.pools.filter(
    ({ id, seats }) => seats > 0 || viewModel.occurrences.some((one) => one.seats[id]),
  )
  const nowAt = percentOf(span, now.getTime())
  const unplaced = viewModel.rotations.filter(({ seats }) => Object.keys(seats).length === 0)
  const byHand = viewModel.rotations.filter(({ when }) => when === null)
  return (
    <div className="relative">
      <div className="sticky top-0 z-10 grid grid-cols-[112px_minmax(0,1fr)] border-b border-line bg-surface">
        <span />
        <Ticks span={span} now={now} />
      </div>
      <div className="relative">
        <div
          className="pointer-events-none absolute top-0 right-0 bottom-0 left-[112px]"
          data-timeline
          aria-hidden
        >
          {ticksOf(span).map((tick) => (
            <div
              key={tick.getTime()}
              className="absolute top-0 bottom-0 border-l border-line/80"
              style={{ left: `${percentOf(span, tick.getTime())}%` }}
            />
          ))}
          {viewModel.blackouts.map(({ from, to, title }) => (
            <div
              key={`${from} ${title}`}
              title={title}
              className="absolute top-0 bottom-0 bg-line/45"
              style={{
                left: `${Math.max(0, percentOf(span, Date.parse(from)))}%`,
                width: `${Math.min(100, percentOf(span, Date.parse(to))) - Math.max(0, percentOf(span, Date.parse(from)))}%`,
              }}
            >
              <span className="absolute top-1 left-1 z-10 text-[10px] whitespace-nowrap text-soft">
                {title}
              </span>
            </div>
          ))}
        </div>
        {pools.map((pool) => (
          <PoolBand
            key={pool.id}
            pool={pool}
            viewModel={viewModel}
            span={span}
            selected={selected}
            editable={editable}
            onSelect={onSelect}
            onDrag={onDrag}
          />
        ))}
        {nowAt > 0 && nowAt < 100 && (
          <div className="pointer-events-none absolute top-0 right-0 bottom-0 left-[112px]" aria-hidden>
            <div className="absolute top-0 bottom-0 w-[1.5px] bg-ink" style={{ left: `${nowAt}%` }} />
          </div>
        )}
      </div>
      {(byHand.length > 0 || unplaced.length > 0) && (
        <p className="px-[18px] py-2 text-sm text-soft">
          {byHand.length > 0 && (
            <>
              Without times:{' '}
              {byHand.map(({ key, title }, i) => (
                <span key={key}>
                  {i > 0 && ', '}
                  <a className="underline" href={`/rotations/${key}`}>
                    {title}
                  </a>
                </span>
              ))}
              .{' '}
            </>
          )}
          {unplaced.length > 0 && (
            <>
              No seat for{' '}
              {unplaced.map(({ key, title, problem }, i) => (
                <span key={key}>
                  {i > 0 && ', '}
                  <Hint text={problem}>
                    <a className="underline" href={`/rotations/${key}`}>
                      {title}
                    </a>
                  </Hint>
                </span>
              ))}
              .
            </>
          )}
        </p>
      )}
    </div>
  )
}

const ticksOf = ({ from, days, name }: Span): Date[] =>
  name === 'day'
    ? Array.from(
        { length: 24 },
        (_, hour) => new Date(from.getFullYear(), from.getMonth(), from.getDate(), hour),
      )
    : Array.from({ length: days }, (_, i) => addDays(from, i))

function Ticks({ span, now }: { span: Span; now: Date }) {
  const today = now.toDateString()
  const label = (tick: Date, i: number): string => {
    if (span.name === 'day') return i % 2 === 0 ? clock(tick) : ''
    if (span.name === 'month')
      return i % 7 === 0 || tick.getDate() === 1
        ? tick.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
        : String(tick.getDate())
    return tick.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric' })
  }
  return (
    <div className="relative h-[26px]">
      {ticksOf(span).map((tick, i) => (
        <span
          key={tick.getTime()}
          className={
            'absolute pl-1 text-xs leading-[26px] whitespace-nowrap ' +
            `${span.name !== 'day' && tick.toDateString() === today ? 'font-semibold' : 'text-soft'}`
          }
          style={{ left: `${percentOf(span, tick.getTime())}%` }}
        >
          {label(tick, i)}
        </span>
      ))}
    </div>
  )
}

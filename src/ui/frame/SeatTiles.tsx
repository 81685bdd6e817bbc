'use client'
import Link from '../base/Link'
import type { SeatTile } from '@/core/view-models'
import { Mark } from '../base/Mark'
import { Simulated } from '../base/Parts'
import { useNow } from '../base/Time'
import { LiveScreen } from './LiveScreen'

/** Every seat at work: its case, its step, its time against the estimate, its screen. */
export function SeatTiles({ seats, label }: { seats: readonly SeatTile[]; label: string }) {
  const now = useNow(5000)?.getTime()
  return (
    <ul aria-label={label} className="grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-2.5">
      {seats.map((seat) => {
        const share = now ? (now - Date.parse(seat.startedAt)) / Math.max(1, seat.estimateMs) : 0
        return (
          <li key={seat.attemptId}>
            <Link
              href={`/attempts/${seat.attemptId}`}
              className="block rounded-oak border border-line bg-raised p-1.5 hover:border-faint"
            >
              <LiveScreen
                attemptId={seat.attemptId}
                hash={seat.screen}
                alt={`Screen of ${seat.title}`}
                className="h-[104px] w-full rounded-[3px] border border-line"
              />
              <div className="mt-1.5 flex items-center gap-1.5 px-0.5">
                <Mark mark={seat.mark} silent />
                <span className="truncate text-sm font-semibold">{seat.title}</span>
              </div>
              <div className="truncate px-0.5 text-xs text-soft">
                {seat.agent} · {seat.environment} {seat.simulated && <Simulated short />}
              </div>
              <div className="truncate px-0.5 text-xs text-soft">
                {seat.mark === 'paused'
                  ? `paused${seat.atStep ? ` at ${seat.atStep}` : ''}`
                  : (seat.atStep ?? 'starting')}
              </div>
              {share > 1 && <span className="sr-only">, longer than expected</span>}
              <div className="mt-1 h-[3px] rounded bg-line" aria-hidden>
                <div
                  className={`h-full rounded ${share > 1 ? 'bg-recovered' : 'bg-running'}`}
                  style={{ width: `${Math.min(100, share * 100)}%` }}
                />
              </div>
            </Link>
          </li>
        )
      })}
    </ul>
  )
}

'use client'
import Link from '../base/Link'
import { plural, type LiveStandingViewModel } from '@/core/view-models'

/** Says which run waits for the seat that this session has: nobody takes it away, who steers decides. */
export function SeatWanted({
  by: { id, title, waiting },
}: {
  by: NonNullable<LiveStandingViewModel['wantedBy']>
}) {
  return (
    <p role="status" className="border-b border-line bg-act-wash px-[18px] py-1.5 text-sm">
      <Link className="underline" href={`/runs/${id}`}>
        {title} {id}
      </Link>{' '}
      waits for this seat with {plural(waiting, 'case run')}. It gets it when the session ends.
    </p>
  )
}

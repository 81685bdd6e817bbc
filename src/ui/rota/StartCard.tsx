'use client'
import Link from '../base/Link'
import { useState } from 'react'
import { describeDuration } from '@/core/model'
import { plural, type RotaOccurrence, type RotaRotation } from '@/core/view-models'
import { Button } from '../base/Button'
import { StartNow } from '../rotation/StartNow'
import { dayKey } from './span'
import { momentWords } from './words'
import { useRotaChange } from './useRota'
import { submitting } from '../base/submitting'
import { DateField } from '../base/DateField'

type Props = {
  occurrence: RotaOccurrence
  rotation: RotaRotation
  now: Date
  editable: boolean
  onMove(to: string): void
  onClose(): void
}

const NOT_STARTED = { failed: 'it did not start', skipped: 'it was skipped' }

/** What it took and how it went; before that, what is forecast of it. */
function Facts({
  occurrence: { at, p50Ms, p90Ms, seats, state, endedAt, outcome },
}: Pick<Props, 'occurrence'>) {
  if (state === 'skipped' || state === 'failed') return NOT_STARTED[state]
  if (endedAt !== null && outcome)
    return (
      <>
        took {describeDuration(Date.parse(endedAt) - Date.parse(at))}, forecast {describeDuration(p50Ms)}:{' '}
        <span className={outcome.passed ? '' : 'text-failed'}>{outcome.words}</span>
      </>
    )
  const where = Object.entries(seats)
    .map(([pool, count]) => `${plural(count, 'seat')} of ${pool}`)
    .join(', ')
  return (
    <>
      {state === 'started' ? 'started; forecast ' : ''}about {describeDuration(p50Ms)}, nine times in ten
      within {describeDuration(p90Ms)}, on {where || 'no seat'}
    </>
  )
}

/** The chosen start: its facts, and what can be done with it. Everything that dragging does can be done here,
 * too. */
export function StartCard({ occurrence, rotation, now, editable, onMove, onClose }: Props) {
  const { at, title, state, note, runId, behind } = occurrence
  const date = new Date(at)
  const [to, setTo] = useState(
    `${dayKey(date)}T${String(date.getHours()).padStart(2, '0')}:${String(date.getMinutes()).padStart(2, '0')}`,
  )
  const change = useRotaChange()
  const moved = new Date(to)
  const other = !Number.isNaN(moved.getTime()) && Math.abs(moved.getTime() - date.getTime()) >= 60_000
  return (
    <section
      aria-label={`Start of ${title}`}
      className="flex flex-wrap items-center gap-x-5 gap-y-2 border-t border-line bg-raised px-[18px] py-2.5"
    >
      <div className="min-w-[260px] flex-1">
        <p>
          <b className="font-semibold">{title}</b> {momentWords(at, now)}{' '}
          <span className="text-soft">{rotation.when && `· ${rotation.when}`}</span>
        </p>
        <p className="text-sm text-soft">
          <Facts occurrence={occurrence} />
          {note && `; ${note}`}.
        </p>
      </div>
      {editable && state === 'planned' && !behind && (
        <form
          className="flex items-center gap-2"
          onSubmit={submitting(() => other && onMove(moved.toISOString()))}
        >
          <DateField withTime aria-label="Move it to" value={to} onChange={setTo} />
          <Button type="submit" disabled={!other}>
            Move
          </Button>
        </form>
      )}
      <div className="flex items-center gap-2">
        {runId !== undefined && (
          <Link className="text-sm text-act underline" href={`/runs/${runId}`}>
            its run
          </Link>
        )}
        <Link className="text-sm text-act underline" href={`/rotations/${rotation.key}`}>
          open the rotation
        </Link>
        {editable && (
          <Button
            onClick={() =>
              void change(
                rotation.key,
                { paused: !rotation.paused },
                rotation.paused
                  ? `${title} counts its times again`
                  : `${title} is paused: its times do not count`,
              )
            }
          >
            {rotation.paused ? 'Resume' : 'Pause'}
          </Button>
        )}
        {editable && <StartNow rotation={rotation.key} title={title} look="plain" />}
        <Button look="quiet" aria-label="Close" className="!px-2" onClick={onClose}>
          ×
        </Button>
      </div>
    </section>
  )
}

'use client'
import Link from 'next/link'
import { describeDuration } from '@/core/model'
import { plural, type RotaOccurrence, type RotaViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { useFrame } from '../frame/Frame'
import { StartNow } from '../rotation/StartNow'
import { cell, head } from '../settings/looks'
import { momentWords } from './words'
import { useRotaChange } from './useRota'

const STARTS_MOST = 150
const STATE_WORDS: Record<RotaOccurrence['state'], string> = {
  planned: 'planned',
  started: 'started',
  skipped: 'skipped',
  failed: 'did not start',
}

/** The rota as tables: the rotations, and their starts in order. */
export function RotaList({ viewModel, now }: { viewModel: RotaViewModel; now: Date }) {
  const { may } = useFrame()
  const change = useRotaChange()
  const starts = viewModel.occurrences.toSorted((a, b) => (a.at < b.at ? -1 : 1))
  return (
    <div className="flex flex-col gap-6 px-[18px] py-4">
      <table aria-label="Rotations" className="w-full text-sm">
        <thead>
          <tr className="border-b border-line">
            {['Rotation', 'When', 'Next', 'Case runs', 'Forecast', 'Seats', ''].map((name) => (
              <th key={name} className={head}>
                {name || <span className="sr-only">Do</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {viewModel.rotations.map(
            ({ key, title, when, timezone, next, caseRuns, p50Ms, p90Ms, seats, paused, problem }) => (
              <tr key={key} className="border-b border-line/70">
                <td className={cell}>
                  <Link className="font-semibold hover:underline" href={`/rotations/${key}`}>
                    {title}
                  </Link>
                  {paused && <span className="text-recovered-text"> paused</span>}
                  {problem && <div className="text-xs text-failed">{problem}</div>}
                </td>
                <td className={`${cell} text-soft`}>
                  {when ?? 'by hand'}
                  {timezone && <span className="text-xs"> · {timezone}</span>}
                </td>
                <td className={cell}>{next ? momentWords(next, now) : '–'}</td>
                <td className={cell}>{caseRuns}</td>
                <td className={cell}>
                  {p50Ms > 0 ? `${describeDuration(p50Ms)} to ${describeDuration(p90Ms)}` : '–'}
                </td>
                <td className={`${cell} text-soft`}>
                  {Object.entries(seats)
                    .map(([pool, count]) => `${count} ${pool}`)
                    .join(', ') || '–'}
                </td>
                <td className={cell}>
                  {may('coordinator') && (
                    <span className="flex justify-end gap-1">
                      <StartNow rotation={key} title={title} look="quiet" />
                      <Button
                        look="quiet"
                        className="!h-6 !px-2"
                        aria-label={`${paused ? 'Resume' : 'Pause'} ${title}`}
                        onClick={() =>
                          void change(
                            key,
                            { paused: !paused },
                            paused ? `${title} counts its times again` : `${title} is paused`,
                          )
                        }
                      >
                        {paused ? 'Resume' : 'Pause'}
                      </Button>
                    </span>
                  )}
                </td>
              </tr>
            ),
          )}
        </tbody>
      </table>
      <table aria-label="Starts" className="w-full text-sm">
        <thead>
          <tr className="border-b border-line">
            {['Start', 'Rotation', 'State', 'Forecast', 'Seats', 'Note'].map((name) => (
              <th key={name} className={head}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {starts.slice(0, STARTS_MOST).map((one) => (
            <tr key={one.id} className="border-b border-line/70">
              <td className={cell}>{momentWords(one.at, now)}</td>
              <td className={cell}>
                <Link className="hover:underline" href={`/rotations/${one.rotation}`}>
                  {one.title}
                </Link>
              </td>
              <td className={`${cell} ${one.state === 'failed' ? 'text-failed' : 'text-soft'}`}>
                {one.runId === undefined ? (
                  STATE_WORDS[one.state]
                ) : (
                  <Link className="underline" href={`/runs/${one.runId}`}>
                    {STATE_WORDS[one.state]}
                  </Link>
                )}
              </td>
              <td className={cell}>
                {describeDuration(one.p50Ms)} to {describeDuration(one.p90Ms)}
              </td>
              <td className={`${cell} text-soft`}>
                {Object.entries(one.seats)
                  .map(([pool, count]) => `${count} ${pool}`)
                  .join(', ')}
              </td>
              <td className={`${cell} text-soft`}>{one.note}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {starts.length > STARTS_MOST && (
        <p className="text-sm text-soft">
          and {plural(starts.length - STARTS_MOST, 'start')} more: choose a shorter time
        </p>
      )}
    </div>
  )
}

'use client'
import Link from '../base/Link'
import { useMemo } from 'react'
import { describeDuration } from '@/core/model'
import { plural, type RotaOccurrence, type RotaViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Table, type Column } from '../base/Table'
import { useFrame } from '../frame/tools'
import { StartNow } from '../rotation/StartNow'
import { momentWords } from './words'
import { useRotaChange } from './useRota'

const STARTS_MOST = 150
const STATE_WORDS: Record<RotaOccurrence['state'], string> = {
  planned: 'planned',
  started: 'started',
  skipped: 'skipped',
  failed: 'did not start',
}

type Rotation = RotaViewModel['rotations'][number]

/** The rota as tables: the rotations, and their starts in order. */
export function RotaList({ viewModel, now }: { viewModel: RotaViewModel; now: Date }) {
  const starts = viewModel.occurrences.toSorted((a, b) => (a.at < b.at ? -1 : 1))
  const rotationColumns = useMemo(() => rotationColumnsAt(now), [now])
  const startColumns = useMemo(() => startColumnsAt(now), [now])
  return (
    <div className="flex flex-col gap-6 px-[18px] py-4">
      <Table
        label="Rotations"
        rows={viewModel.rotations}
        columns={rotationColumns}
        keyOf={({ key }) => key}
      />
      <Table
        label="Starts"
        rows={starts.slice(0, STARTS_MOST)}
        columns={startColumns}
        keyOf={({ id }) => id}
      />
      {starts.length > STARTS_MOST && (
        <p className="text-sm text-soft">
          and {plural(starts.length - STARTS_MOST, 'start')} more: choose a shorter time
        </p>
      )}
    </div>
  )
}

const rotationColumnsAt = (now: Date): Column<Rotation>[] => [
  {
    head: 'Rotation',
    as: 'name',
    by: ({ title }) => title,
    cell: ({ key, title, paused, problem }) => (
      <>
        <Link className="font-semibold hover:underline" href={`/rotations/${key}`}>
          {title}
        </Link>
        {paused && <span className="text-recovered-text"> paused</span>}
        {problem && <div className="text-xs text-failed">{problem}</div>}
      </>
    ),
  },
  {
    head: 'When',
    look: 'text-soft',
    cell: ({ when, timezone }) => (
      <>
        {when ?? 'by hand'}
        {timezone && <span className="text-xs"> · {timezone}</span>}
      </>
    ),
  },
  {
    head: 'Next',
    by: ({ next }) => next ?? null,
    cell: ({ next }) => (next ? momentWords(next, now) : '–'),
  },
  { head: 'Case runs', by: ({ caseRuns }) => caseRuns, cell: ({ caseRuns }) => caseRuns },
  { head: 'Forecast', by: ({ p50Ms }) => p50Ms, cell: (one) => (one.p50Ms > 0 ? forecastWords(one) : '–') },
  { head: 'Seats', look: 'text-soft', cell: ({ seats }) => seatWords(seats) || '–' },
  { head: 'Do', as: 'do', cell: (rotation) => <Actions rotation={rotation} /> },
]

const startColumnsAt = (now: Date): Column<RotaOccurrence>[] => [
  { head: 'Start', by: ({ at }) => at, cell: ({ at }) => momentWords(at, now) },
  {
    head: 'Rotation',
    as: 'name',
    by: ({ title }) => title,
    cell: ({ rotation, title }) => (
      <Link className="hover:underline" href={`/rotations/${rotation}`}>
        {title}
      </Link>
    ),
  },
  { head: 'State', by: ({ state }) => STATE_WORDS[state], cell: (start) => <State start={start} /> },
  { head: 'Forecast', by: ({ p50Ms }) => p50Ms, cell: forecastWords },
  {
    head: 'Took',
    by: tookMs,
    cell: (start) => (tookMs(start) === null ? '–' : describeDuration(tookMs(start)!)),
  },
  { head: 'Seats', look: 'text-soft', cell: ({ seats }) => seatWords(seats) },
  { head: 'Note', look: 'text-soft', cell: ({ note }) => note },
]

const forecastWords = ({ p50Ms, p90Ms }: { p50Ms: number; p90Ms: number }) =>
  `${describeDuration(p50Ms)} to ${describeDuration(p90Ms)}`

const tookMs = ({ at, endedAt }: RotaOccurrence): number | null =>
  endedAt === null ? null : Date.parse(endedAt) - Date.parse(at)

const seatWords = (seats: Record<string, number>) =>
  Object.entries(seats)
    .map(([pool, count]) => `${count} ${pool}`)
    .join(', ')

function State({ start: { state, runId, outcome } }: { start: RotaOccurrence }) {
  const words = outcome?.words ?? STATE_WORDS[state]
  return (
    <span className={state === 'failed' || outcome?.passed === false ? 'text-failed' : 'text-soft'}>
      {runId === undefined ? (
        words
      ) : (
        <Link className="underline" href={`/runs/${runId}`}>
          {words}
        </Link>
      )}
    </span>
  )
}

function Actions({ rotation: { key, title, paused } }: { rotation: Rotation }) {
  const { may } = useFrame()
  const change = useRotaChange()
  if (!may('coordinator')) return null
  const turn = () =>
    void change(key, { paused: !paused }, paused ? `${title} counts its times again` : `${title} is paused`)
  return (
    <span className="flex items-center justify-end gap-1">
      <StartNow rotation={key} title={title} look="quiet" />
      <Button
        look="quiet"
        className="!h-6 !px-2"
        aria-label={`${paused ? 'Resume' : 'Pause'} ${title}`}
        onClick={turn}
      >
        {paused ? 'Resume' : 'Pause'}
      </Button>
    </span>
  )
}

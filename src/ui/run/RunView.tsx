'use client'
import { useRouter } from 'next/navigation'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { describeCounts, type Mark as MarkName } from '@/core/execution'
import { describeDuration } from '@/core/model'
import { plural, type GridCell, type GridGroup, type RunViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { MixBar, Tally } from '../base/MixBar'
import { TitleLine } from '../base/Parts'
import { clock } from '../base/Time'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { useFrame } from '../frame/Frame'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { SeatTiles } from '../frame/SeatTiles'
import { AgainstForecast } from './AgainstForecast'
import { CellMargin } from './CellMargin'
import { Grid } from './Grid'
import { Lanes } from './Lanes'
import { StopDialog } from './StopDialog'

const VIEWS = ['grid', 'lanes', 'seats'] as const
const VIEW_WORDS = { grid: 'Grid', lanes: 'Lanes', seats: 'Seats' } as const
/** What "only" lets through: a failure is either kind of it. */
const ONLY: Record<string, MarkName[]> = {
  failed: ['failed', 'errored'],
  recovered: ['recovered'],
  running: ['running', 'claimed', 'paused'],
}
const isFailure = (cell: GridCell) => cell.mark === 'failed' || cell.mark === 'errored'

export function RunView({ initial }: { initial: RunViewModel }) {
  const {
    run: { id },
  } = initial
  const { data = initial } = useViewModel<RunViewModel>(`/api/runs/${id}`, [`run:${id}`], initial)
  const [at, setAt] = useQueryStates(
    { cell: parseAsString, view: parseAsStringLiteral(VIEWS).withDefault('grid'), only: parseAsString },
    { history: 'replace' },
  )
  const { may } = useFrame()
  const margin = useMargin('run')
  const router = useRouter()
  const [stopping, setStopping] = useState(false)
  const { run } = data
  const groups = useMemo(() => filtered(data.groups, ONLY[at.only ?? '']), [data.groups, at.only])
  const cells = useMemo(
    () =>
      data.groups.flatMap(({ rows }) =>
        rows.flatMap((row) =>
          row.cells.flatMap((cell) =>
            cell ? [{ ...cell, title: row.title, row: row.row, caseKey: row.caseKey }] : [],
          ),
        ),
      ),
    [data.groups],
  )
  const selected = cells.find((cell) => cell.id === at.cell)
  const failures = cells.filter(isFailure)
  const step = (by: 1 | -1) => {
    const here = failures.findIndex((cell) => cell.id === at.cell)
    const first = by > 0 ? 0 : failures.length - 1
    const next = failures[here < 0 ? first : here + by]
    if (next) void setAt({ cell: next.id })
  }
  const act = async (path: string, done: (answer: { id: number } | undefined) => void, body?: object) => {
    try {
      done(
        await api<{ id: number } | undefined>(`/api/runs/${id}/${path}`, {
          method: 'POST',
          ...(body && { body }),
        }),
      )
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  const keep = () => void act('keep', () => toast('It counts as a run now, and stays'))
  const again = () => void act('again', (answer) => answer && router.push(`/runs/${answer.id}`))
  const open = run.state !== 'ended'
  const pause = () =>
    act(
      'pause',
      () => toast(run.paused ? 'It goes on' : 'Nothing new is begun; what runs waits before its next step'),
      { paused: !run.paused },
    )
  const bad = run.counts.failed + run.counts.errored
  useKeys([
    { key: '.', what: 'next failure', off: failures.length === 0, run: () => step(1) },
    { key: ',', what: 'previous failure', off: failures.length === 0, run: () => step(-1) },
    {
      key: 'o',
      what: 'open what is selected',
      off: !selected?.attemptId,
      run: () => router.push(`/attempts/${selected!.attemptId}`),
    },
    {
      key: 'd',
      what: 'draft a defect from it',
      off: !selected?.attemptId || !isFailure(selected) || !may('tester'),
      run: () => router.push(`/attempts/${selected!.attemptId}?draft=1`),
    },
    {
      key: 'p',
      what: run.paused ? 'go on with the run' : 'pause the run',
      off: !open || !may('tester'),
      run: () => void pause(),
    },
    {
      key: 'r',
      what: 'run again what failed',
      off: open || bad === 0 || !may('tester') || run.kind === 'imported',
      run: again,
    },
    {
      key: 'f',
      what: 'only failures, or all',
      run: () => void setAt({ only: at.only === 'failed' ? null : 'failed' }),
    },
  ])

  const hasMargin = margin.open && at.view !== 'seats' // a seat opens its log, there is nothing to choose

  return (
    <Tabs value={at.view} onChange={(view) => void setAt({ view })}>
      <TitleLine title={run.title} facts={facts(data)}>
        {open && may('tester') && run.state !== 'cancelling' && (
          <Button keyHint="p" onClick={() => void pause()}>
            {run.paused ? 'Go on' : 'Pause'}
          </Button>
        )}
        {open && may('tester') && (
          <Button look="danger" disabled={run.state === 'cancelling'} onClick={() => setStopping(true)}>
            {run.state === 'cancelling' ? 'Being stopped' : 'Stop the run'}
          </Button>
        )}
        {run.kind === 'rehearsal' && may('tester') && <Button onClick={keep}>Keep it as a run</Button>}
        {!open && bad > 0 && may('tester') && run.kind !== 'imported' && (
          <Button look="main" keyHint="r" onClick={again}>
            Run again the {bad} that failed
          </Button>
        )}
      </TitleLine>
      <div className="flex min-h-[38px] items-center gap-4 border-b border-line px-[18px]">
        <div className="w-[min(560px,42vw)]">
          <MixBar counts={run.counts} className="h-[11px]" />
        </div>
        <div aria-live="polite">
          <Tally counts={run.counts} />
        </div>
        <TabList
          label="Pictures of the run"
          className="ml-auto self-end"
          tabs={VIEWS.map((key) => ({ key, label: VIEW_WORDS[key] }))}
        />
        {at.view === 'grid' && (
          <label className="flex items-center gap-1.5 text-sm text-soft">
            <input
              type="checkbox"
              className="accent-[var(--act)]"
              checked={at.only === 'failed'}
              onChange={(event) => void setAt({ only: event.target.checked ? 'failed' : null })}
            />
            only failures
          </label>
        )}
        {at.view !== 'seats' && <MarginToggle {...margin} />}
      </div>
      <StopDialog
        viewModel={data}
        open={stopping}
        onClose={() => setStopping(false)}
        onStop={(undo) =>
          void act(
            'cancel',
            () => {
              setStopping(false)
              toast('The run is being stopped; what runs stops at its next step')
            },
            { undo },
          )
        }
      />
      <AgainstForecast viewModel={data} />
      <div className={`grid min-h-0 flex-1 ${hasMargin ? 'grid-cols-[minmax(0,1fr)_300px]' : 'grid-cols-1'}`}>
        <TabPanel value={at.view} className="grid min-h-0 min-w-0">
          {at.view === 'grid' && (
            <Grid
              groups={groups}
              environments={data.environments}
              selected={at.cell}
              onSelect={(cell) => void setAt({ cell })}
              onOpen={(attempt) => router.push(`/attempts/${attempt}`)}
            />
          )}
          {at.view === 'lanes' && (
            <Lanes
              lanes={data.lanes}
              forecast={data.forecast}
              begun={run.createdAt}
              selected={selected?.attemptId ?? null}
            />
          )}
          {at.view !== 'grid' && at.view !== 'lanes' && (
            <div className="overflow-auto px-[18px] py-3">
              {data.seats.length > 0 ? (
                <SeatTiles seats={data.seats} label="Seats at work" />
              ) : (
                <p className="py-2 text-soft">
                  {open
                    ? 'No seat is at work on it at this moment.'
                    : 'It has ended: what each seat did is under Lanes.'}
                </p>
              )}
            </div>
          )}
        </TabPanel>
        {hasMargin && <CellMargin cell={selected} viewModel={data} />}
      </div>
    </Tabs>
  )
}

/** Of runs that are not as any other. */
const KIND_WORDS: Partial<Record<RunViewModel['run']['kind'], string>> = {
  rehearsal: 'a rehearsal, in no history and gone after a day; ',
  imported: 'taken in from a result file; ',
}

function facts({ run, suiteTitle, leftOut }: RunViewModel): string {
  const when = run.startedAt
    ? `started by ${run.startedBy} ${clock(run.startedAt)}${run.endedAt ? `, ended ${clock(run.endedAt)}, ${describeDuration(new Date(run.endedAt).getTime() - new Date(run.startedAt).getTime())}` : ''}`
    : `by ${run.startedBy}, waits for a free seat`
  const kind = KIND_WORDS[run.kind] ?? ''
  const name = suiteTitle.toLowerCase() === run.title.toLowerCase() ? '' : `suite ${suiteTitle}, `
  return `${kind}${name}build ${run.build}, ${when}${run.againOf ? `; repeats the failures of run ${run.againOf}` : ''}${leftOut.length > 0 ? `; ${plural(leftOut.length, 'entry', 'entries')} left out` : ''}. ${describeCounts(run.counts)}${run.quarantined > 0 ? `, ${run.quarantined} of the failures in quarantine` : ''}${run.paused ? '; paused' : ''}`
}

function filtered(groups: GridGroup[], marks: MarkName[] | undefined): GridGroup[] {
  if (!marks) return groups
  return groups
    .map((group) => ({
      ...group,
      rows: group.rows.filter((row) => row.cells.some((cell) => cell && marks.includes(cell.mark))),
    }))
    .filter(({ rows }) => rows.length > 0)
}

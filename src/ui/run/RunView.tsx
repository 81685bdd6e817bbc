'use client'
import dynamic from 'next/dynamic'
import { useRouter } from '../base/opening'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import {
  cellsOf,
  isFailure,
  nextFailure,
  onlyRows,
  runActions,
  runFacts,
  type RunViewModel,
} from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { MixBar, Tally } from '../base/MixBar'
import { TitleLine } from '../base/Parts'
import { clock } from '../base/Time'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { FindOnScreens } from '../screens/FindOnScreens'
import { MarginToggle, useMargin } from '../frame/Margin'
import { SeatTiles } from '../frame/SeatTiles'
import { AgainstForecast } from './AgainstForecast'
import { Causes } from './Causes'
import { CellMargin } from './CellMargin'
import { Grid } from './Grid'
import { Lanes } from './Lanes'
import { ReportDialog } from './ReportDialog'
import { Shares } from './Shares'
import { StopDialog } from './StopDialog'

const DraftDialog = dynamic(() => import('../defects/DraftDialog').then((all) => all.DraftDialog), {
  ssr: false,
})

const VIEWS = ['grid', 'lanes', 'seats', 'causes'] as const
const VIEW_WORDS = { grid: 'Grid', lanes: 'Lanes', seats: 'Seats', causes: 'Causes' } as const
export function RunView({ initial }: { initial: RunViewModel }) {
  const {
    run: { id },
  } = initial
  const { data = initial } = useViewModel<RunViewModel>(`/api/runs/${id}`, [`run:${id}`], initial)
  const [at, setAt] = useQueryStates(
    {
      cell: parseAsString,
      view: parseAsStringLiteral(VIEWS).withDefault('grid'),
      only: parseAsString,
      draft: parseAsString,
    },
    { history: 'replace' },
  )
  const { may } = useFrame()
  const margin = useMargin('run')
  const router = useRouter()
  const [stopping, setStopping] = useState(false)
  const [reporting, setReporting] = useState(false)
  const [finding, setFinding] = useState(false)
  const { run } = data
  const groups = useMemo(() => onlyRows(data.groups, at.only), [data.groups, at.only])
  const cells = useMemo(() => cellsOf(data.groups), [data.groups])
  const selected = cells.find((cell) => cell.id === at.cell)
  const hasFailures = cells.some(isFailure)
  const isFromFile = run.kind === 'imported'
  const mayDraft =
    selected !== undefined &&
    (isFromFile || selected.attemptId !== null) &&
    isFailure(selected) &&
    may('tester')
  const can = runActions(run, may('tester'))
  const step = (by: 1 | -1) => {
    const next = nextFailure(cells, at.cell, by)
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
  const pause = () =>
    act(
      'pause',
      () => toast(run.paused ? 'It goes on' : 'Nothing new is begun; what runs waits before its next step'),
      { paused: !run.paused },
    )
  useKeys([
    { key: '.', what: 'next failure', off: !hasFailures, run: () => step(1) },
    { key: ',', what: 'previous failure', off: !hasFailures, run: () => step(-1) },
    { key: 'x', what: 'a report of the run, as a file', run: () => setReporting(true) },
    { key: 's', what: 'find a text on its screens', run: () => setFinding(true) },
    {
      key: 'o',
      what: 'open what is selected',
      off: at.view === 'causes' || !selected?.attemptId,
      run: () => router.push(`/attempts/${selected!.attemptId}`),
    },
    {
      key: 'd',
      what: 'draft a defect from it',
      off: at.view === 'causes' || !mayDraft,
      run: () =>
        selected!.attemptId
          ? router.push(`/attempts/${selected!.attemptId}?draft=1`)
          : void setAt({ draft: '1' }),
    },
    {
      key: 'p',
      what: run.paused ? 'go on with the run' : 'pause the run',
      off: !can.pause,
      run: () => void pause(),
    },
    {
      key: 'r',
      what: 'run again what failed',
      off: !can.again,
      run: again,
    },
    {
      key: 'f',
      what: 'only failures, or all',
      run: () => void setAt({ only: at.only === 'failed' ? null : 'failed' }),
    },
  ])

  // a seat opens its log, and a cause has its own
  const hasMargin = margin.open && (at.view === 'grid' || at.view === 'lanes')

  return (
    <Tabs value={at.view} onChange={(view) => void setAt({ view })}>
      <TitleLine title={run.title} facts={runFacts(data, clock)}>
        {can.pause && (
          <Button keyHint="p" onClick={() => void pause()}>
            {run.paused ? 'Go on' : 'Pause'}
          </Button>
        )}
        {can.stop && (
          <Button look="danger" disabled={run.state === 'cancelling'} onClick={() => setStopping(true)}>
            {run.state === 'cancelling' ? 'Being stopped' : 'Stop the run'}
          </Button>
        )}
        {can.keep && <Button onClick={keep}>Keep it as a run</Button>}
        <Button keyHint="s" onClick={() => setFinding(true)}>
          Find on screens
        </Button>
        <Button keyHint="x" onClick={() => setReporting(true)}>
          Report
        </Button>
        {can.again && (
          <Button look="main" keyHint="r" onClick={again}>
            Run again the {can.bad} that failed
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
        {(at.view === 'grid' || at.view === 'lanes') && <MarginToggle {...margin} />}
      </div>
      {finding && <FindOnScreens of={`run=${id}`} whose="this run" onClose={() => setFinding(false)} />}
      <ReportDialog run={run} open={reporting} onClose={() => setReporting(false)} />
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
      {run.kind !== 'guided' && <AgainstForecast viewModel={data} />}
      <Shares shares={data.shares} />
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
          {at.view === 'causes' && (
            <Causes
              runId={id}
              failures={can.bad}
              isOpen={can.isOpen}
              go={(address) => router.push(address)}
            />
          )}
          {at.view === 'seats' && (
            <div className="overflow-auto px-[18px] py-3">
              {data.seats.length > 0 ? (
                <SeatTiles seats={data.seats} label="Seats at work" />
              ) : (
                <p className="py-2 text-soft">
                  {can.isOpen
                    ? 'No seat is at work on it at this moment.'
                    : 'It has ended: what each seat did is under Lanes.'}
                </p>
              )}
            </div>
          )}
        </TabPanel>
        {hasMargin && (
          <CellMargin
            cell={selected}
            viewModel={data}
            onDraft={isFromFile && mayDraft ? () => void setAt({ draft: '1' }) : undefined}
          />
        )}
      </div>
      {at.draft && isFromFile && mayDraft && (
        <DraftDialog of={{ caseRunId: selected.id }} onClose={() => void setAt({ draft: null })} />
      )}
    </Tabs>
  )
}

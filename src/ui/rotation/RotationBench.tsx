'use client'
import dynamic from 'next/dynamic'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import { useCallback, useState } from 'react'
import { GENERATOR_NAMES, type Path } from '@/core/model/editing'
import type { BenchViewModel, RotationViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { TitleLine } from '../base/Parts'
import { Ago } from '../base/Time'
import { DraftActions } from '../edit/DraftActions'
import { useDraft } from '../edit/useDraft'
import { useReading } from '../edit/useReading'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { FailBand } from './FailBand'
import { HowBand } from './HowBand'
import { gathered, Problems } from './Problems'
import { StartNow } from './StartNow'
import { useOutlook } from './useOutlook'
import { WhatBand } from './WhatBand'
import { WhereBand } from './WhereBand'
import { SidePanel } from '../edit/SidePanel'
import { EditConflictBand, EditConflictDialog, RehearseDialog, SourcePane, Versions } from '../edit/later'

// The last band, below what is seen at first.
const WhenBand = dynamic(() => import('./WhenBand').then((module) => module.WhenBand), { ssr: false })
const Reports = dynamic(() => import('./Reports').then((module) => module.Reports), { ssr: false })
const ForecastMargin = dynamic(() => import('./ForecastMargin').then((module) => module.ForecastMargin), {
  ssr: false,
})

const SIDES = ['forecast', 'file', 'versions', 'reports'] as const
const SIDE_WORDS: Record<(typeof SIDES)[number], string> = {
  forecast: 'Forecast',
  file: 'File',
  versions: 'Versions',
  reports: 'Reports',
}

/** A rotation under the hand: five bands in the order of thought, and beside them what it would come to. */
export function RotationBench({
  name,
  initial,
  initialViewModel,
}: {
  name: string
  initial: BenchViewModel
  initialViewModel: RotationViewModel
}) {
  const draft = useDraft('rotation', name, initial)
  const { data: viewModel = initialViewModel } = useViewModel<RotationViewModel>(
    `/api/rotations/${name}`,
    ['definitions', 'fleet', 'run', 'rota'],
    initialViewModel,
  )
  const { may } = useFrame()
  const margin = useMargin('rotation')
  const [side, setSide] = useQueryState(
    'side',
    parseAsStringLiteral(SIDES).withDefault('forecast').withOptions({ history: 'replace' }),
  )
  const [rehearsing, setRehearsing] = useState(false)
  const { read: rotation, legible } = useReading('rotation', draft)
  const foreseen = useOutlook(rotation)
  const { edit } = draft
  const put = useCallback((path: Path, value: unknown) => void edit({ do: 'put', path, value }), [edit])
  const editable = may('tester') && legible
  const problems = gathered(draft.problems, draft.warnings, foreseen.outlook?.faults ?? [])
  const first = foreseen.basis?.items.find(({ phase }) => !phase)
  useKeys([
    {
      key: 'h',
      what: 'rehearse one case of it',
      off: !may('tester') || !first,
      run: () => setRehearsing(true),
    },
  ])
  if (!rotation) return null
  const band = { rotation, viewModel, foreseen, editable, put, edit }
  const made = draft.viewModel ?? initial
  return (
    <>
      <TitleLine
        title={rotation.title}
        facts={
          <>
            a rotation{rotation.paused && <b className="text-recovered-text"> that is paused</b>}
            {made.repository && `, from ${made.repository.name}`};{' '}
            {draft.dirty ? (
              'your changes are kept in this browser until you save'
            ) : (
              <>
                saved <Ago at={made.changedAt} />
              </>
            )}
          </>
        }
      >
        <DraftActions draft={draft} />
        {may('tester') && (
          <Button keyHint="h" disabled={!first} onClick={() => setRehearsing(true)}>
            Rehearse one
          </Button>
        )}
        {may('tester') && (
          <StartNow
            rotation={name}
            title={rotation.title}
            disabled={draft.dirty || draft.problems.length > 0}
            look={draft.dirty ? 'plain' : 'main'}
            hint={draft.dirty ? 'Save first: a run takes what is saved' : undefined}
          />
        )}
        <MarginToggle {...margin} />
      </TitleLine>
      <EditConflictBand draft={draft} />
      <div
        className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[minmax(0,1fr)_330px]' : 'grid-cols-1'}`}
      >
        <div className="overflow-auto" role="region" aria-label="The rotation" tabIndex={-1}>
          <Problems problems={problems} />
          <fieldset disabled={!band.editable} className="contents">
            <WhatBand {...band} />
            <WhereBand {...band} />
            <HowBand {...band} />
            <FailBand {...band} />
            <WhenBand {...band} />
          </fieldset>
        </div>
        {margin.open && (
          <SidePanel
            label="Beside the rotation"
            sides={SIDES.map((key) => ({ key, name: SIDE_WORDS[key] }))}
            side={side}
            onSide={(key) => void setSide(key)}
          >
            {side === 'forecast' && <ForecastMargin foreseen={foreseen} past={viewModel.past} />}
            {side === 'file' && (
              <SourcePane
                kind="rotation"
                label={`File of ${rotation.title}`}
                source={draft.source}
                problems={draft.problems}
                warnings={draft.warnings}
                editable={may('tester')}
                onChange={draft.write}
                offers={{
                  routines: viewModel.offers.routines,
                  tables: [],
                  cases: viewModel.cases.map(({ key }) => key),
                  suites: viewModel.suites.map(({ key }) => key),
                  applications: viewModel.offers.applications,
                  names: [],
                  columns: [],
                  generators: GENERATOR_NAMES,
                }}
              />
            )}
            {side === 'versions' && <Versions draft={draft} />}
            {side === 'reports' && <Reports rotation={name} />}
          </SidePanel>
        )}
      </div>
      <EditConflictDialog draft={draft} />
      {rehearsing && first && (
        <RehearseDialog
          what={{ title: first.title, cases: [first.case] }}
          onClose={() => setRehearsing(false)}
        />
      )}
    </>
  )
}

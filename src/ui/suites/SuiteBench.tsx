'use client'
import dynamic from 'next/dynamic'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { parseAsStringLiteral, useQueryState } from 'nuqs'
import { useState } from 'react'
import { describeDuration, GENERATOR_NAMES } from '@/core/model'
import { plural, type LibraryLine, type Rehearsed, type SuiteViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Problem, TitleLine } from '../base/Parts'
import { DraftActions } from '../edit/DraftActions'
import { useDraft } from '../edit/useDraft'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { entryRows, OutlineEditor, type EntryRow } from './OutlineEditor'
import { SidePanel } from '../edit/SidePanel'
import { EditConflictBand, EditConflictDialog, RehearseDialog, SourcePane, Versions } from '../edit/later'

// What is shown once an entry is chosen.
const CasePanel = dynamic(() => import('./CasePanel').then((module) => module.CasePanel), { ssr: false })
const EntrySettings = dynamic(() => import('./EntrySettings').then((module) => module.EntrySettings), {
  ssr: false,
})
const RuleField = dynamic(() => import('./RuleField').then((module) => module.RuleField), { ssr: false })
const FlatList = dynamic(() => import('./FlatList').then((module) => module.FlatList), { ssr: false })
const SIDES = ['entry', 'order', 'file', 'versions'] as const
const SIDE_WORDS: Record<(typeof SIDES)[number], string> = {
  entry: 'Entry',
  order: 'What will run',
  file: 'File',
  versions: 'Versions',
}

type Props = {
  name: string
  initial: SuiteViewModel | undefined
  library: React.ReactNode
  caseKey: string | null
  onCase(key: string | null): void
  onSuite(key: string): void
}

const WITHOUT_MARGIN = 'grid-cols-[210px_minmax(340px,1fr)]'
const WITH_MARGIN = 'grid-cols-[210px_minmax(340px,1fr)_minmax(350px,33%)]'

/** One suite under the hand: its outline, the settings of what is chosen, what will run, and its file. */
export function SuiteBench({ name, initial, library, caseKey, onCase, onSuite }: Props) {
  const draft = useDraft('suite', name)
  const { data: lines = [] } = useViewModel<LibraryLine[]>('/api/library', ['definitions'])
  const { may, start } = useFrame()
  const margin = useMargin('suites')
  const [side, setSide] = useQueryState(
    'side',
    parseAsStringLiteral(SIDES).withDefault('entry').withOptions({ history: 'replace' }),
  )
  const [selected, setSelected] = useState<string[]>([])
  const [rehearsing, setRehearsing] = useState<Rehearsed>()
  const { data: kept } = useViewModel<SuiteViewModel>(`/api/suites/${name}`, ['definitions', 'run'], initial)
  const { data: drafted } = useQuery<SuiteViewModel, ApiProblem>({
    queryKey: ['suite-draft', name, draft.source],
    enabled: draft.dirty,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      api<SuiteViewModel>(`/api/suites/${name}`, { method: 'POST', body: { source: draft.source } }),
  })
  const suite = draft.dirty ? (drafted ?? kept) : kept
  const editable = may('tester')
  const rows = suite ? entryRows(suite.outline) : []
  const row = rows.find(({ id }) => id === selected.at(-1))
  const choose = (ids: string[]) => {
    setSelected(ids)
    const last = rows.find(({ id }) => id === ids.at(-1))
    if (last?.entry.caseKey) onCase(last.entry.caseKey)
  }
  const open = (one: EntryRow) => (one.entry.suiteKey ? onSuite(one.entry.suiteKey) : void setSide('entry'))
  const chosenCases = [
    ...new Set(
      rows
        .filter(({ id }) => selected.includes(id))
        .flatMap(({ entry }) => (entry.caseKey ? [entry.caseKey] : [])),
    ),
  ]
  const rehearse = () =>
    setRehearsing(
      chosenCases.length > 0
        ? {
            title: chosenCases.length === 1 ? (row?.title ?? 'the case') : plural(chosenCases.length, 'case'),
            cases: chosenCases,
          }
        : {
            title: suite?.title ?? name,
            suite: name,
            ...(draft.dirty && { draft: { kind: 'suite', key: name, source: draft.source } }),
          },
    )
  useKeys([
    { key: 's', what: 'start this suite', off: !editable || draft.dirty, run: () => start(name) },
    {
      key: 'h',
      what: 'rehearse what is chosen, or the suite',
      off: !editable || draft.problems.length > 0,
      run: rehearse,
    },
  ])
  const named = (kind: 'case' | 'suite') =>
    lines.filter((line) => line.kind === kind && !(kind === 'suite' && line.key === name))
  const tables = lines.filter((line) => line.kind === 'data').map(({ key }) => key)
  const isBroken = (draft.viewModel?.broken.length ?? 0) > 0

  return (
    <>
      <TitleLine title={suite?.title ?? name} facts={suite && suiteFacts(suite)}>
        <DraftActions draft={draft} />
        {editable && (
          <Button keyHint="h" disabled={draft.problems.length > 0} onClick={rehearse}>
            Rehearse
          </Button>
        )}
        {editable && (
          <Button
            look={draft.dirty ? 'plain' : 'main'}
            keyHint="s"
            disabled={draft.dirty}
            hint={draft.dirty ? 'Save first: a run takes what is saved' : undefined}
            onClick={() => start(name)}
          >
            Start
          </Button>
        )}
        <MarginToggle {...margin} />
      </TitleLine>
      {(draft.behind || typeof draft.viewModel?.theirs === 'string' || isBroken) && (
        <EditConflictBand draft={draft} />
      )}
      <div className={`grid min-h-0 flex-1 ${margin.open ? WITH_MARGIN : WITHOUT_MARGIN}`}>
        {library}
        <div className="flex min-h-0 flex-col">
          {draft.problems[0] && (
            <div className="px-[14px] pt-2">
              <Problem>
                Line {draft.problems[0].line}
                {draft.problems[0].field && `, ${draft.problems[0].field}`}: {draft.problems[0].message}. What
                you see below is the last sound text.
              </Problem>
            </div>
          )}
          {typeof suite?.rule === 'string' && (
            <div className="border-b border-line px-[14px] py-3">
              <RuleField
                value={suite.rule}
                onChange={(rule) => void draft.edit({ do: 'set', path: ['rule'], value: rule })}
              />
            </div>
          )}
          <div className="min-h-0 flex-1">
            {suite ? (
              <OutlineEditor
                suite={suite}
                selected={selected}
                onSelect={choose}
                onMoved={setSelected}
                onOpen={open}
                editable={editable && draft.problems.length === 0}
                edit={draft.edit}
                cases={named('case')}
                suites={named('suite')}
              />
            ) : (
              <div className="m-4 h-60 animate-pulse rounded bg-line/40" />
            )}
          </div>
        </div>
        {margin.open && (
          <SidePanel
            label="Beside the outline"
            sides={SIDES.map((key) => ({ key, name: SIDE_WORDS[key] }))}
            side={side}
            onSide={(key) => void setSide(key)}
          >
            {side === 'entry' && (
              <>
                {row?.entry.own && (
                  <EntrySettings
                    key={row.id}
                    row={row}
                    rows={rows}
                    tables={tables}
                    editable={editable && draft.problems.length === 0}
                    edit={draft.edit}
                  />
                )}
                {row && !row.entry.own && (
                  <p className="border-b border-line px-4 py-3 text-sm text-soft">
                    This entry belongs to another suite, and is changed there.
                  </p>
                )}
                {caseKey ? (
                  <CasePanel caseKey={caseKey} />
                ) : (
                  !row && (
                    <p className="px-4 py-6 text-sm text-soft">
                      Choose an entry to see its settings, or a case to read its steps.
                    </p>
                  )
                )}
              </>
            )}
            {side === 'order' && suite && <FlatList suite={suite} />}
            {side === 'file' && (
              <SourcePane
                kind="suite"
                label={`File of ${suite?.title ?? name}`}
                source={draft.source}
                problems={draft.problems}
                warnings={draft.warnings}
                editable={editable}
                onChange={draft.write}
                offers={{
                  routines: [],
                  tables,
                  cases: named('case').map(({ key }) => key),
                  suites: named('suite').map(({ key }) => key),
                  applications: [],
                  names: [],
                  columns: [],
                  generators: GENERATOR_NAMES,
                }}
              />
            )}
            {side === 'versions' && <Versions draft={draft} />}
          </SidePanel>
        )}
      </div>
      {draft.conflict && <EditConflictDialog draft={draft} />}
      {rehearsing && <RehearseDialog what={rehearsing} onClose={() => setRehearsing(undefined)} />}
    </>
  )
}

function suiteFacts(suite: SuiteViewModel): string {
  const rows = suite.caseRuns === suite.cases ? '' : `, ${suite.caseRuns} with their rows`
  return (
    `${plural(suite.cases, 'case')}${rows}, about ${describeDuration(suite.estimateMs)} on one ` +
    `seat${suite.repository ? `; from ${suite.repository.name}` : ''}`
  )
}

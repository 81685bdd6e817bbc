'use client'
import dynamic from 'next/dynamic'
import Link from '../base/Link'
import { parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs'
import { useState } from 'react'
import { columnsOf, type DataSet, type DefinitionKind } from '@/core/model'
import { GENERATOR_NAMES } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Problem, TitleLine } from '../base/Parts'
import { DraftActions } from '../edit/DraftActions'
import { useDraft } from '../edit/useDraft'
import { placeToMend } from '../frame/mend'
import { useFrame } from '../frame/tools'
import { useKeys } from '../frame/keys'
import { MarginToggle, useMargin } from '../frame/Margin'
import { LastMarks } from '../suites/LastMarks'
import { lineOfRow, rowAsked } from './step-rows'
import { StepsPart } from './StepsPart'
import { SidePanel } from '../edit/SidePanel'
import { EditConflictBand, EditConflictDialog, RehearseDialog, SourcePane, Versions } from '../edit/later'

const RowsTable = dynamic(() => import('./RowsTable').then((module) => module.RowsTable), { ssr: false })

const DataRows = dynamic(() => import('./DataRows').then((module) => module.DataRows), { ssr: false })

const Uses = dynamic(() => import('./Uses').then((module) => module.Uses), { ssr: false })
const SIDES = ['file', 'versions', 'uses', 'problems'] as const
const SIDE_WORDS: Record<(typeof SIDES)[number], string> = {
  file: 'File',
  versions: 'Versions',
  uses: 'Used in',
  problems: 'Problems',
}

/** The bench of one case, routine or table: its lines and its file side by side, two views of the same
 * text. */
export function Bench({
  kind,
  name,
  initial,
}: {
  kind: Exclude<DefinitionKind, 'suite' | 'rotation' | 'policy'>
  name: string
  initial: BenchViewModel
}) {
  const draft = useDraft(kind, name, initial)
  const { may } = useFrame()
  const margin = useMargin('bench')
  const [at, setAt] = useQueryStates(
    { side: parseAsStringLiteral(SIDES).withDefault('file'), step: parseAsString },
    { history: 'replace' },
  )
  const stepAt = rowAsked(stepsIn(draft.definition), at.step)
  const [rehearsing, setRehearsing] = useState<'rehearsal' | 'live'>()
  const { definition, viewModel = initial, problems, warnings } = draft
  const editable = may('tester')
  const rows = definition?.kind === 'case' && definition.data ? definition.data : undefined
  useKeys([
    {
      key: 'h',
      what: 'rehearse this case',
      off: kind !== 'case' || !editable || problems.length > 0,
      run: () => setRehearsing('rehearsal'),
    },
    {
      key: 'l',
      what: 'open a browser to steer, record and try steps',
      off: kind !== 'case' || !editable || problems.length > 0,
      run: () => setRehearsing('live'),
    },
  ])
  const counts: Partial<Record<(typeof SIDES)[number], number>> = {
    ...(problems.length + warnings.length > 0 && { problems: problems.length + warnings.length }),
    uses: viewModel.uses.length,
  }
  const sides = SIDES.map((key) => ({ key, name: SIDE_WORDS[key], count: counts[key] }))

  return (
    <>
      <TitleLine
        title={definition?.title ?? viewModel.title}
        facts={<BenchFacts viewModel={viewModel} kind={kind} />}
      >
        {kind === 'case' && <LastMarks marks={viewModel.last} title={viewModel.title} />}
        <DraftActions draft={draft} />
        {kind === 'case' && editable && (
          <Button
            keyHint="h"
            disabled={problems.length > 0}
            hint={problems.length > 0 ? 'The text is not sound yet' : undefined}
            onClick={() => setRehearsing('rehearsal')}
          >
            Rehearse
          </Button>
        )}
        {kind === 'case' && editable && (
          <Button keyHint="l" disabled={problems.length > 0} onClick={() => setRehearsing('live')}>
            Live
          </Button>
        )}
        <MarginToggle {...margin} />
      </TitleLine>
      <EditConflictBand draft={draft} />
      <div
        className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[minmax(420px,1fr)_minmax(360px,40%)]' : 'grid-cols-1'}`}
      >
        <div className="overflow-auto" data-state={problems.length > 0 ? 'broken' : 'sound'}>
          {problems.length > 0 && (
            <div className="px-[18px] pt-3">
              <Problem>
                Line {problems[0]!.line}
                {problems[0]!.field && `, ${problems[0]!.field}`}: {problems[0]!.message}. What you see below
                is the last sound text.
              </Problem>
            </div>
          )}
          {definition && (definition.kind === 'case' || definition.kind === 'routine') && (
            <StepsPart
              definition={definition}
              draft={draft}
              viewModel={viewModel}
              editable={editable && problems.length === 0}
              at={stepAt}
              onAt={(step) => void setAt({ step })}
            />
          )}
          {definition?.kind === 'data' && (
            <RowsTable
              table={definition}
              editable={editable && problems.length === 0}
              onChange={draft.write}
            />
          )}
          {rows !== undefined && definition?.kind === 'case' && (
            <DataRows
              name={rows}
              missing={(table: DataSet) =>
                columnsOf(definition).filter((column) => !table.columns.includes(column))
              }
              editable={editable}
            />
          )}
        </div>
        {margin.open && (
          <SidePanel
            label="Beside the steps"
            sides={sides}
            side={at.side}
            onSide={(key) => void setAt({ side: key })}
            note={
              <span
                className="min-w-0 flex-1 self-center truncate pr-2 text-right font-mono text-xs text-soft"
                title={viewModel.file}
              >
                {viewModel.file}
              </span>
            }
          >
            {at.side === 'file' && (
              <SourcePane
                kind={kind}
                label={`File of ${viewModel.title}`}
                source={draft.source}
                problems={problems}
                warnings={warnings}
                editable={editable}
                onChange={draft.write}
                line={lineAt(definition, stepAt)}
                offers={{
                  ...viewModel.offers,
                  names: namesIn(definition),
                  columns: [],
                  generators: GENERATOR_NAMES,
                }}
              />
            )}
            {at.side === 'versions' && <Versions draft={draft} />}
            {at.side === 'uses' && <Uses viewModel={viewModel} />}
            {at.side === 'problems' && <Problems problems={problems} warnings={warnings} />}
          </SidePanel>
        )}
      </div>
      <EditConflictDialog draft={draft} />
      {rehearsing && definition?.kind === 'case' && (
        <RehearseDialog
          what={{
            title: definition.title,
            cases: [name],
            parameters: definition.parameters,
            rows: definition.data ? viewModel.rowCount : 0,
            live: rehearsing === 'live',
            ...(draft.dirty && { draft: { kind: 'case', key: name, source: draft.source } }),
          }}
          onClose={() => setRehearsing(undefined)}
        />
      )}
    </>
  )
}

function BenchFacts({ viewModel, kind }: { viewModel: BenchViewModel; kind: DefinitionKind }) {
  const what = {
    case: 'case',
    routine: 'routine',
    data: 'table',
    suite: 'suite',
    rotation: 'rotation',
    policy: 'policy',
  }[kind]
  return (
    <>
      {what} <span className="font-mono text-xs">{viewModel.key}</span>
      {viewModel.repository
        ? `, from ${viewModel.repository.name}${viewModel.edited ? ', edited here and not committed' : ''}`
        : ', kept in this workspace'}{' '}
      ·{' '}
      <Link className="underline" href="/suites">
        all suites
      </Link>
    </>
  )
}

function Problems({
  problems,
  warnings,
}: {
  problems: BenchViewModel['draft']['problems']
  warnings: BenchViewModel['draft']['warnings']
}) {
  if (problems.length + warnings.length === 0)
    return <p className="px-4 py-4 text-sm text-soft">The text is sound, and all it refers to is there.</p>
  return (
    <ul className="divide-y divide-line text-sm">
      {[...problems, ...warnings].map(({ line, column, field, message, missing }, i) => (
        <li key={i} className="px-4 py-2">
          <span className="font-mono text-xs text-soft">
            {line}:{column} {field}
          </span>
          <br />
          {message}
          {missing && (
            <>
              :{' '}
              <Link href={placeToMend(missing)} className="underline">
                set it up
              </Link>
            </>
          )}
        </li>
      ))}
    </ul>
  )
}

const namesIn = (definition: BenchViewModel['draft']['definition']) =>
  definition && 'parameters' in definition
    ? [...Object.keys(definition.parameters), ...('needs' in definition ? definition.needs : [])]
    : []

/** The line of the file where a step stands. */
function lineAt(definition: BenchViewModel['draft']['definition'], id: string | null): number | undefined {
  return definition && id !== null && 'steps' in definition ? lineOfRow(definition, id) : undefined
}

const stepsIn = (definition: ReturnType<typeof useDraft>['definition']) =>
  definition?.kind === 'case' || definition?.kind === 'routine' ? definition : undefined

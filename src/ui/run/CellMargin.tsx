'use client'
import Link from '../base/Link'
import { describeDuration } from '@/core/model'
import { plural, type GridCell, type RunViewModel } from '@/core/view-models'
import { Button, buttonLook, Key } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Simulated } from '../base/Parts'
import { Screen } from '../base/Screen'
import { Imported, ResultSuites } from './Imported'

type Selected = GridCell & { title: string; row: string | null; caseKey: string }

/** What is known of the selected case run, one key away from its evidence. */
export function CellMargin({
  cell,
  viewModel,
  onDraft,
}: {
  cell: Selected | undefined
  viewModel: RunViewModel
  /** Of a failure that a result file told. */
  onDraft?: (() => void) | undefined
}) {
  if (!cell)
    return (
      <aside
        aria-label="Selected case run"
        className="overflow-auto border-l border-line bg-surface p-4 text-sm text-soft"
      >
        <p>Choose a mark to see what is behind it.</p>
        <p className="mt-2 flex gap-1.5">
          <Key>.</Key>
          <Key>,</Key> walk the failures
        </p>
        {viewModel.resultSuites && <ResultSuites suites={viewModel.resultSuites} />}
      </aside>
    )
  const environment = viewModel.environments.find(({ key }) => key === cell.environment)
  const bad = cell.mark === 'failed' || cell.mark === 'errored'
  const same = viewModel.groups
    .flatMap(({ rows }) => rows)
    .filter(({ caseKey }) => caseKey === cell.caseKey)
    .flatMap(({ cells }) => cells)
    .filter((other) => other && (other.mark === 'failed' || other.mark === 'errored'))
  const elsewhere = new Set(same.map((other) => other!.environment)).size
  return (
    <aside aria-label="Selected case run" className="overflow-auto border-l border-line bg-surface p-4">
      <h2 className="flex items-center gap-2">
        <Mark mark={cell.mark} />
        {cell.title}
      </h2>
      <p className="text-sm text-soft">
        {environment?.title}
        {cell.row && `, row ${cell.row}`}
        {cell.agent && `, agent ${cell.agent}`} {environment?.simulated && <Simulated />}
      </p>
      {cell.attemptId && (
        <Link href={`/attempts/${cell.attemptId}`}>
          <Screen
            hash={cell.screen}
            alt={`Last screen of ${cell.title}`}
            className={
              'mt-3 w-full rounded-[3px] border border-line ' +
              `${environment && environment.narrow ? 'h-[300px] !object-contain' : 'h-[168px]'}`
            }
          />
        </Link>
      )}
      <p className="mt-3 text-sm font-semibold first-letter:uppercase">
        {MARK_WORDS[cell.mark]}
        {cell.durationMs !== null && (
          <span className="font-normal text-soft">, {describeDuration(cell.durationMs)}</span>
        )}
        {cell.attempts > 1 && (
          <span className="font-normal text-soft">, {plural(cell.attempts, 'attempt')}</span>
        )}
      </p>
      {cell.failure && (
        <pre
          className={
            'mt-1.5 rounded-oak bg-failed-wash p-2.5 font-mono text-xs leading-[17px] break-words ' +
            'whitespace-pre-wrap first-letter:uppercase'
          }
        >
          {cell.failure}
        </pre>
      )}
      {viewModel.run.kind === 'imported' && <Imported caseRun={cell.id} />}
      {onDraft && (
        <Button keyHint="d" className="mt-4" onClick={onDraft}>
          Draft a defect
        </Button>
      )}
      {bad && elsewhere > 0 && (
        <p className="mt-2.5 text-sm text-soft">
          This case fails on {elsewhere} of {plural(viewModel.environments.length, 'environment')} in this
          run.
        </p>
      )}
      {viewModel.run.kind === 'guided' && cell.mark === 'waiting' && (
        <Link href={`/guided/${cell.id}`} className={buttonLook('main', 'mt-4')}>
          Carry it out
        </Link>
      )}
      {cell.attemptId && (
        <div className="mt-4 flex flex-wrap gap-2">
          <Link href={`/attempts/${cell.attemptId}`} className={buttonLook('main')}>
            Open <Key>o</Key>
          </Link>
          {bad && (
            <Link href={`/attempts/${cell.attemptId}?draft=1`} className={buttonLook('plain')}>
              Draft a defect <Key>d</Key>
            </Link>
          )}
        </div>
      )}
    </aside>
  )
}

'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { describeStep } from '@/core/model'
import { pathsAfterMove, type Edit, type Path, type Place } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { Screen } from '../base/Screen'
import { idOf } from '../tree/rows'
import { TreeList } from '../tree/TreeList'
import type { StepRow } from './step-rows'

// It comes with the first step that is opened.
const StepEditor = dynamic(() => import('./StepEditor').then((module) => module.StepEditor), { ssr: false })

type Props = {
  label: string
  rows: StepRow[]
  selected: string[]
  onSelect(ids: string[]): void
  editable: boolean
  edit(...edits: Edit[]): boolean
  open: string | undefined
  onOpen(id: string | undefined): void
  screens: Record<string, string>
  offers: BenchViewModel['offers']
  problemLines: ReadonlySet<number>
  /** Stands before the number of a step. */
  before?(row: StepRow): React.ReactNode
}

/** Steps as readable lines; the one that is open is edited in its place. */
export function StepTree({
  label,
  rows,
  selected,
  onSelect,
  editable,
  edit,
  open,
  onOpen,
  screens,
  offers,
  problemLines,
  before,
}: Props) {
  const [shown, setShown] = useState<string>()
  const move = (paths: Path[], place: Place) => {
    if (!edit({ do: 'move', paths, ...place })) return
    onOpen(undefined)
    onSelect(pathsAfterMove(paths, place).map(idOf))
  }
  return (
    <>
      <TreeList
        label={label}
        rows={rows}
        selected={selected}
        onSelect={onSelect}
        {...(editable && { onMove: move })}
        onOpen={(row) => editable && row.step && onOpen(row.id)}
      >
        {(row) => {
          if (!row.step) return <span className="flex-1 pl-8 text-sm font-semibold text-act">else</span>
          if (open === row.id && editable)
            return (
              <StepEditor
                step={row.step}
                path={row.path}
                offers={offers}
                onEdit={edit}
                onClose={() => onOpen(undefined)}
              />
            )
          return (
            <StepSentence
              row={row}
              before={before?.(row)}
              problem={row.step.line !== undefined && problemLines.has(row.step.line)}
              screen={screens[row.logPath]}
              onScreen={() => setShown(shown === row.id ? undefined : row.id)}
              onEdit={editable ? () => onOpen(row.id) : undefined}
            />
          )
        }}
      </TreeList>
      {shown && (
        <LargeScreen
          row={rows.find(({ id }) => id === shown)}
          screens={screens}
          onClose={() => setShown(undefined)}
        />
      )}
    </>
  )
}

function StepSentence({
  row,
  before,
  problem,
  screen,
  onScreen,
  onEdit,
}: {
  row: StepRow
  before: React.ReactNode
  problem: boolean
  screen: string | undefined
  onScreen(): void
  onEdit: (() => void) | undefined
}) {
  const { step, number } = row
  const { verb, object, detail } = describeStep(step!)
  return (
    <span className={`flex min-w-0 flex-1 items-center gap-2.5 ${row.dim ? 'text-faint line-through' : ''}`}>
      {before}
      <span className={`w-6 shrink-0 text-right text-xs ${problem ? 'font-bold text-failed' : 'text-soft'}`}>
        {number}
      </span>
      <span className="min-w-0 flex-1 py-1 text-sm">
        {verb && (
          <>
            <b className="mr-0.5 font-semibold text-act">{verb}</b>{' '}
          </>
        )}
        <span className={verb ? '' : 'font-semibold'}>{object}</span>{' '}
        {detail && <span className="font-mono text-xs break-words text-soft">{detail}</span>}
        {step!.because && <span className="block text-xs text-soft italic">{step!.because}</span>}
      </span>
      {row.dim && <span className="sr-only">switched off</span>}
      {step!.tag && <span className="chip">{step!.tag}</span>}
      {onEdit && (
        <button
          type="button"
          onClick={onEdit}
          tabIndex={-1}
          className="invisible px-1 text-xs text-soft underline group-hover:visible"
        >
          Edit
        </button>
      )}
      {screen && (
        <button
          type="button"
          onClick={onScreen}
          tabIndex={-1}
          aria-label={`Last good screen of step ${number}`}
        >
          <Screen
            hash={screen}
            alt=""
            className="h-[26px] w-[40px] shrink-0 rounded-[2px] border border-line"
          />
        </button>
      )}
    </span>
  )
}

const LargeScreen = ({
  row,
  screens,
  onClose,
}: {
  row: StepRow | undefined
  screens: Record<string, string>
  onClose(): void
}) => (
  <button
    type="button"
    onClick={onClose}
    aria-label="Close the screen"
    className="fixed bottom-6 left-24 z-30 w-[460px] rounded-oak border border-line bg-raised p-2 text-left shadow-xl"
  >
    <Screen
      hash={row && screens[row.logPath]}
      alt={`Last good screen at ${row?.title ?? ''}`}
      className="w-full !object-contain"
    />
    <span className="mt-1 block truncate text-xs text-soft">
      {row?.title}: the last good screen. Click to close.
    </span>
  </button>
)

'use client'
import { Fragment, useMemo, useState } from 'react'
import type { Routine, Step, TestCase, Verb } from '@/core/model'
import { newStep, outermost, type Path } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { type useDraft } from '../edit/useDraft'
import { useKeys } from '../frame/keys'
import { idOf } from '../tree/rows'
import { AddStep } from './AddStep'
import { Facts } from './Facts'
import { MakeRoutine } from './MakeRoutine'
import { StepTree } from './StepTree'
import { playedLists, undoList, type StepRow } from './step-rows'

type StepsProps = {
  definition: TestCase | Routine
  draft: ReturnType<typeof useDraft>
  viewModel: BenchViewModel
  editable: boolean
  at: string | null
  onAt(step: string | null): void
}

export function StepsPart({ definition, draft, viewModel, editable, at, onAt }: StepsProps) {
  const [more, setMore] = useState<string[]>([])
  const [open, setOpen] = useState<string>()
  const [making, setMaking] = useState(false)
  const [adding, setAdding] = useState(false)
  const played = useMemo(() => playedLists(definition), [definition])
  const undo = useMemo(() => undoList(definition), [definition])
  const selected = [...more, ...(at ? [at] : [])]
  const select = (ids: string[]) => {
    setMore(ids.slice(0, -1))
    onAt(ids.at(-1) ?? null)
  }
  const chosen = [...played, undo]
    .flatMap(({ rows }) => rows)
    .filter((row): row is StepRow & { step: Step } => selected.includes(row.id) && row.step !== undefined)
  const paths = outermost(chosen.map(({ path }) => path))
  const problemLines = new Set([...draft.problems, ...draft.warnings].map(({ line }) => line))
  const { edit } = draft
  const off = () =>
    edit(
      ...chosen.map(({ path, step }) => ({
        do: 'set' as const,
        path: [...path, 'off'],
        value: step.off ? undefined : true,
      })),
    )
  const remove = () => edit({ do: 'remove', paths }) && select([])
  const wrap = () =>
    sameList(paths) &&
    edit({ do: 'wrap', paths, value: { block: 'Block' }, into: 'steps' }) &&
    select([idOf(paths[0]!)])
  const add = (verb: Verb, inUndo = false) => {
    const last = paths.at(-1)
    const behindLast = last && { list: last.slice(0, -1), at: (last.at(-1) as number) + 1 }
    const { path: list, length: end } = inUndo ? undo : played[0]!
    const place = inUndo ? { list, at: end } : (behindLast ?? { list, at: end })
    if (!edit({ do: 'insert', ...place, values: [newStep(verb, undefined, viewModel.offers)] })) return
    const id = idOf([...place.list, place.at])
    select([id])
    setOpen(id)
    setAdding(false)
  }
  const some = chosen.length > 0 && editable
  useKeys([
    { key: 'a', what: 'add a step', off: !editable, run: () => setAdding(true) },
    { key: 'x', what: 'switch the chosen steps off or on', off: !some, run: () => void off() },
    { key: 'Delete', what: 'take the chosen steps out', off: !some, run: () => void remove() },
    { key: 'w', what: 'put the chosen steps into a block', off: !some, run: () => void wrap() },
    { key: 'k', what: 'make a routine of the chosen steps', off: !some, run: () => setMaking(true) },
  ])
  const shared = {
    selected,
    onSelect: select,
    editable,
    edit,
    open,
    onOpen: setOpen,
    screens: viewModel.screens,
    offers: viewModel.offers,
    problemLines,
  }
  return (
    <>
      <Facts definition={definition} offers={viewModel.offers} editable={editable} edit={edit} />
      <div className="flex h-9 items-center gap-2 border-b border-line px-[18px]">
        <h2 className="label flex-1">{played[0]!.heading}</h2>
        {editable && <AddStep open={adding} onOpen={setAdding} onAdd={add} />}
        {some && (
          <>
            <Button look="quiet" className="!h-6 !px-2" keyHint="x" onClick={off}>
              {chosen.every(({ step }) => step.off) ? 'Switch on' : 'Switch off'}
            </Button>
            {sameList(paths) && (
              <Button look="quiet" className="!h-6 !px-2" keyHint="w" onClick={wrap}>
                Into a block
              </Button>
            )}
            {sameList(paths) && (
              <Button look="quiet" className="!h-6 !px-2" keyHint="k" onClick={() => setMaking(true)}>
                Make a routine
              </Button>
            )}
            <Button look="quiet" className="!h-6 !px-2" onClick={remove}>
              Take out
            </Button>
          </>
        )}
      </div>
      {played.map(({ label, heading, rows }, i) => (
        <Fragment key={label}>
          {i > 0 && <h2 className="label flex h-9 items-center border-b border-line px-[18px]">{heading}</h2>}
          <StepTree label={label} rows={rows} {...shared} />
        </Fragment>
      ))}
      <div className="flex h-9 items-center gap-2 border-b border-line px-[18px]">
        <h2 className="label flex-1">
          {undo.rows.length > 0 ? 'Then undo, last first, whatever happened' : 'No undo steps'}
        </h2>
        {editable && (
          <Button look="quiet" className="!h-6 !px-2" onClick={() => add('call', true)}>
            Add an undo step
          </Button>
        )}
      </div>
      {undo.rows.length > 0 && <StepTree label={undo.label} rows={undo.rows} {...shared} />}
      {making && chosen.length > 0 && (
        <MakeRoutine
          steps={paths.map((path) => chosen.find((row) => row.id === idOf(path))!.step)}
          paths={paths}
          edit={edit}
          onClose={() => setMaking(false)}
        />
      )}
    </>
  )
}

const sameList = (paths: readonly Path[]) =>
  paths.length > 0 && paths.every((path) => idOf(path.slice(0, -1)) === idOf(paths[0]!.slice(0, -1)))

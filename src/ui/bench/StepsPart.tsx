'use client'
import { useMemo, useState } from 'react'
import type { Routine, Step, TestCase, Verb } from '@/core/model'
import { newStep, outermost, type Path } from '@/core/model/editing'
import { plural, type BenchViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { type useDraft } from '../edit/useDraft'
import { useKeys } from '../frame/keys'
import { idOf } from '../tree/rows'
import { AddStep } from './AddStep'
import { Facts } from './Facts'
import { MakeRoutine } from './MakeRoutine'
import { stepRows, StepTree, type StepRow } from './StepTree'

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
  const steps = useMemo(() => stepRows(definition.steps, 'steps'), [definition.steps])
  const undo = useMemo(() => stepRows(definition.undo, 'undo'), [definition.undo])
  const selected = [...more, ...(at ? [at] : [])]
  const select = (ids: string[]) => {
    setMore(ids.slice(0, -1))
    onAt(ids.at(-1) ?? null)
  }
  const chosen = [...steps, ...undo].filter(
    (row): row is StepRow & { step: Step } => selected.includes(row.id) && row.step !== undefined,
  )
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
    const place = inUndo
      ? { list: ['undo'], at: definition.undo.length }
      : (behindLast ?? { list: ['steps'], at: definition.steps.length })
    if (!edit({ do: 'insert', ...place, values: [newStep(verb)] })) return
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
        <h2 className="label flex-1">{plural(steps.filter(({ step }) => step).length, 'step')}</h2>
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
      <StepTree label="Steps" rows={steps} {...shared} />
      <div className="flex h-9 items-center gap-2 border-b border-line px-[18px]">
        <h2 className="label flex-1">
          {undo.length > 0 ? 'Then undo, last first, whatever happened' : 'No undo steps'}
        </h2>
        {editable && (
          <Button look="quiet" className="!h-6 !px-2" onClick={() => add('call', true)}>
            Add an undo step
          </Button>
        )}
      </div>
      {undo.length > 0 && <StepTree label="Undo steps" rows={undo} {...shared} />}
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

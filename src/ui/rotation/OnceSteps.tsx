'use client'
import dynamic from 'next/dynamic'
import { useState } from 'react'
import { describeStep, sentenceText, type Step, type Verb } from '@/core/model'
import { newStep, stepForm, VERB_NAMES } from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { Select } from '../base/fields'
import type { BandProps } from './edit'

const StepEditor = dynamic(() => import('../bench/StepEditor').then((module) => module.StepEditor), {
  ssr: false,
})

type Offers = BenchViewModel['offers']
type Props = {
  label: string
  field: 'before' | 'after'
  steps: Step[]
  offers: Offers
  /** What becomes of them, said behind them. */
  words: string
  editable: boolean
  edit: BandProps['edit']
}

const ROUTINE = 'routine '

/** Steps that are done once: routines with their values, and single steps, each edited where it stands. */
export function OnceSteps({ label, field, steps, offers, words, editable, edit }: Props) {
  const [open, setOpen] = useState<number>()
  const set = (forms: unknown[]) =>
    edit({ do: 'put', path: [field], value: forms.length > 0 ? forms : undefined })
  const forms = steps.map(stepForm)
  const add = (chosen: string) => {
    if (chosen === '') return
    const step = chosen.startsWith(ROUTINE)
      ? { use: chosen.slice(ROUTINE.length) }
      : newStep(chosen as Verb, undefined, offers)
    if (set([...forms, step])) setOpen(steps.length)
  }
  const remove = (i: number) => {
    set(forms.toSpliced(i, 1))
    setOpen(undefined)
  }
  const edited = open === undefined ? undefined : steps[open]
  return (
    <div className="w-full" data-field={field} role="group" aria-label={label}>
      <div className="flex flex-wrap items-center gap-1.5">
        <span className="text-sm text-soft">{label.toLowerCase()}</span>
        {steps.map((step, i) => (
          <StepChip
            key={i}
            title={titleOf(step, offers)}
            isOpen={i === open}
            editable={editable}
            onOpen={() => setOpen(i === open ? undefined : i)}
            onRemove={() => remove(i)}
          />
        ))}
        {editable && (
          <Select
            aria-label={`${label}: add a step`}
            width="w-36"
            className="text-soft"
            value=""
            onChoose={add}
          >
            <option value="">{steps.length === 0 ? 'nothing' : 'and then…'}</option>
            {offers.routines.length > 0 && (
              <optgroup label="a routine">
                {offers.routines.map(({ key, title }) => (
                  <option key={key} value={`${ROUTINE}${key}`}>
                    {title}
                  </option>
                ))}
              </optgroup>
            )}
            <optgroup label="a step">
              {VERB_NAMES.map((verb) => (
                <option key={verb}>{verb}</option>
              ))}
            </optgroup>
          </Select>
        )}
        {steps.length > 0 && <span className="text-sm text-soft">({words})</span>}
      </div>
      {editable && edited && open !== undefined && (
        <div className="mt-1.5 rounded-oak border border-line bg-raised px-3">
          <StepEditor
            step={edited}
            path={[field, open]}
            offers={offers}
            onEdit={(...edits) => void edit(...edits)}
            onClose={() => setOpen(undefined)}
          />
        </div>
      )}
    </div>
  )
}

/** A routine by its title, with the values it is given; another step as its sentence. */
function titleOf(step: Step, { routines }: Offers): string {
  if (step.verb !== 'use') return sentenceText(describeStep(step))
  const title = routines.find(({ key }) => key === step.routine)?.title ?? step.routine
  const given = Object.entries(step.with).map(([name, value]) => `${name} ${value}`)
  return given.length > 0 ? `${title} (${given.join(', ')})` : title
}

function StepChip({
  title,
  isOpen,
  editable,
  onOpen,
  onRemove,
}: {
  title: string
  isOpen: boolean
  editable: boolean
  onOpen(): void
  onRemove(): void
}) {
  const look =
    'inline-flex h-[28px] max-w-full items-center gap-1.5 rounded-full border bg-raised px-3 text-sm ' +
    `${isOpen ? 'border-act' : 'border-line'}`
  if (!editable)
    return (
      <span className={look}>
        <span className="truncate">{title}</span>
      </span>
    )
  return (
    <span className={look}>
      <button
        type="button"
        aria-expanded={isOpen}
        title={title}
        className="min-w-0 truncate hover:underline"
        onClick={onOpen}
      >
        {title}
      </button>
      <button
        type="button"
        aria-label={`Take away ${title}`}
        onClick={onRemove}
        className="-mr-1.5 rounded-full px-1 text-soft hover:text-failed"
      >
        ×
      </button>
    </span>
  )
}

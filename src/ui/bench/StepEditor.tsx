'use client'
import type { Step, Verb } from '@/core/model'
import {
  fieldsOf,
  newStep,
  stepForm,
  VERB_NAMES,
  type Edit,
  type Path,
  type StepField,
} from '@/core/model/editing'
import type { BenchViewModel } from '@/core/view-models'
import { FieldOfStep } from './FieldOfStep'
import { Select } from '../base/fields'

type Props = {
  step: Step
  path: Path
  offers: BenchViewModel['offers']
  onEdit(...edits: Edit[]): void
  onClose(): void
}

/** A step edited where it stands: its verb, what the verb needs, and what any step may carry. */
export function StepEditor({ step, path, offers, onEdit, onClose }: Props) {
  const form = stepForm(step)
  const set = (field: Path, value: unknown) => onEdit({ do: 'set', path: [...path, ...field], value })
  const setVerb = (verb: Verb) => {
    const { id, off, tag, limit, capture, because } = form
    const kept = Object.fromEntries(
      Object.entries({ id, off, tag, limit, capture, because }).filter(([, value]) => value !== undefined),
    )
    onEdit({ do: 'set', path, value: { ...newStep(verb, step, offers), ...kept } })
  }
  const shown = (field: StepField) => (
    <FieldOfStep
      key={field.path.join('.')}
      field={field}
      value={valueAt(form, field.path)}
      whole={form}
      offers={offers}
      onSet={(value, at = field.path) => set(at, value)}
    />
  )
  return (
    <div
      className="flex-1 py-2 pr-1"
      role="group"
      aria-label="Edit the step"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return
        event.stopPropagation()
        onClose()
      }}
    >
      <div className="grid grid-cols-[104px_1fr] items-start gap-x-3 gap-y-1.5">
        <label className="label pt-1.5" htmlFor="step-verb">
          Verb
        </label>
        <Select
          id="step-verb"
          autoFocus
          width="w-40"
          className="font-semibold text-act"
          value={step.verb}
          onChoose={(chosen) => setVerb(chosen as Verb)}
          choices={VERB_NAMES.map((value) => ({ value }))}
        />
        {fieldsOf(step.verb).map(shown)}
        <span />
        <div className="flex items-center gap-4 text-sm">
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-[var(--act)]"
              checked={step.off ?? false}
              onChange={({ target }) => set(['off'], target.checked || undefined)}
            />
            switched off
          </label>
          <label className="flex items-center gap-1.5">
            screens{' '}
            <Select
              size="small"
              width="w-auto"
              value={step.capture ?? 'always'}
              onChoose={(chosen) => set(['capture'], chosen === 'always' ? undefined : chosen)}
            >
              <option value="always">always</option>
              <option value="on-failure">on failure</option>
              <option value="never">never</option>
            </Select>
          </label>
          <button type="button" className="ml-auto text-soft underline" onClick={onClose}>
            Done
          </button>
        </div>
      </div>
    </div>
  )
}

const valueAt = (form: unknown, path: Path): unknown =>
  path.reduce<unknown>((value, part) => (value as Record<string, unknown> | undefined)?.[part], form)

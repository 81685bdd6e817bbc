'use client'
import type { UseFormReturn } from 'react-hook-form'
import type { DefectViewModel } from '@/core/view-models'
import { Select } from '../base/fields'
import { Field } from '../base/Field'

export type DefectForm = Pick<DefectViewModel, 'title' | 'steps' | 'expected' | 'actual' | 'severity'>
const field = 'w-full rounded-oak border border-line bg-surface px-2.5 py-1.5 text-sm'

/** The words of a defect, the same while drafting and while mending. */
export function DefectFields({
  form,
  because,
  belowSteps,
}: {
  form: UseFormReturn<DefectForm>
  /** What speaks for the severity that is proposed. */
  because?: string
  belowSteps?: React.ReactNode
}) {
  const {
    register,
    formState: { errors },
  } = form
  return (
    <>
      <div className="grid grid-cols-[1fr_130px] gap-3">
        <Field label="Title">
          <input
            className={field}
            maxLength={200}
            {...register('title', { validate: (text) => text.trim() !== '' || 'A defect needs a title' })}
            aria-invalid={!!errors.title}
          />
          {errors.title && (
            <span role="alert" className="text-xs text-failed">
              {errors.title.message}
            </span>
          )}
        </Field>
        <Field label="Severity">
          <Select size="tall" {...register('severity')}>
            {['low', 'normal', 'high', 'critical'].map((name) => (
              <option key={name}>{name}</option>
            ))}
          </Select>
        </Field>
      </div>
      {because && <p className="-mt-1 text-xs text-soft">Proposed is {because}.</p>}
      <Field label="Steps to reproduce">
        <textarea
          className={`${field} min-h-[150px] font-mono text-xs leading-[18px]`}
          {...register('steps')}
        />
      </Field>
      {belowSteps}
      <div className="grid grid-cols-2 gap-3">
        <Field label="Expected">
          <textarea className={`${field} min-h-[58px]`} {...register('expected')} />
        </Field>
        <Field label="Actual">
          <textarea className={`${field} min-h-[58px]`} {...register('actual')} />
        </Field>
      </div>
    </>
  )
}

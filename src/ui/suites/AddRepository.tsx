'use client'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'
import { NEW_PLACE, placeOf, RepositoryFields, type PlaceForm } from './RepositoryFields'

/** Names a git repository with case files; it is read at once, and kept only if it can be. */
export function AddRepository() {
  const { problem, ask } = useAsking()
  const form = useForm<PlaceForm>({ defaultValues: NEW_PLACE })
  const {
    register,
    handleSubmit,
    formState: { errors, isSubmitting },
  } = form
  const submit = handleSubmit((values) =>
    ask(async () => {
      const { read, problems } = await api<{ read: number; problems: unknown[] }>('/api/repositories', {
        method: 'POST',
        body: { name: values.name.trim(), ...placeOf(values) },
      })
      toast(
        `${values.name}: ${plural(read, 'file')} ` +
          `read${problems.length > 0 ? `, ${plural(problems.length, 'problem')}` : ''}`,
      )
    }),
  )
  return (
    <form
      onSubmit={(event) => void submit(event)}
      className="flex w-full flex-col gap-3 text-left"
      aria-label="Add a repository"
    >
      <Field label="Name" error={errors.name?.message}>
        <TextField
          size="tall"
          {...register('name', {
            required: 'Give it a name',
            pattern: {
              value: /^[A-Za-z0-9][A-Za-z0-9._-]*$/,
              message: 'Letters, digits, dots and dashes',
            },
          })}
          placeholder="harbour-cases"
        />
      </Field>
      <RepositoryFields form={form} />
      {problem && <Problem>{problem}</Problem>}
      <div>
        <Button look="main" type="submit" disabled={isSubmitting}>
          {isSubmitting ? 'Reading' : 'Read it'}
        </Button>
      </div>
    </form>
  )
}

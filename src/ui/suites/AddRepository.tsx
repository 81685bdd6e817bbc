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

type Form = { name: string; location: string; branch: string }

/** Names a git repository with case files; it is read at once, and kept only if it can be. */
export function AddRepository() {
  const { problem, ask } = useAsking()
  const {
    register,
    handleSubmit,
    formState: { errors, isSubmitting },
  } = useForm<Form>({ defaultValues: { branch: 'main' } })
  const submit = handleSubmit((form) =>
    ask(async () => {
      const { read, problems } = await api<{ read: number; problems: unknown[] }>('/api/repositories', {
        method: 'POST',
        body: form,
      })
      toast(
        `${form.name}: ${plural(read, 'file')} read${problems.length > 0 ? `, ${plural(problems.length, 'problem')}` : ''}`,
      )
    }),
  )
  const words = { required: 'Say which' }
  return (
    <form
      onSubmit={(event) => void submit(event)}
      className="flex w-full flex-col gap-3"
      aria-label="Add a repository"
    >
      <div className="grid grid-cols-[1fr_110px] gap-3">
        <Field label="Name">
          <TextField
            size="tall"
            {...register('name', {
              ...words,
              pattern: { value: /^[A-Za-z0-9][A-Za-z0-9._-]*$/, message: 'Letters, digits, dots and dashes' },
            })}
            placeholder="harbour-cases"
            aria-invalid={!!errors.name}
          />
        </Field>
        <Field label="Branch">
          <TextField size="tall" {...register('branch', words)} aria-invalid={!!errors.branch} />
        </Field>
      </div>
      <Field label="Path on the server, or address">
        <TextField
          size="tall"
          {...register('location', {
            ...words,
            pattern: {
              value: /^(\/|https?:\/\/|ssh:\/\/|git@)\S+$/,
              message: 'A path that begins with /, or an address (https, ssh)',
            },
          })}
          placeholder="/srv/harbour-cases"
          aria-invalid={!!errors.location}
        />
      </Field>
      {[errors.name, errors.location, errors.branch].find(Boolean) && (
        <p role="alert" className="text-xs text-failed">
          {(errors.name ?? errors.location ?? errors.branch)?.message}
        </p>
      )}
      {problem && <Problem>{problem}</Problem>}
      <div>
        <Button look="main" type="submit" disabled={isSubmitting}>
          {isSubmitting ? 'Reading' : 'Read it'}
        </Button>
      </div>
    </form>
  )
}

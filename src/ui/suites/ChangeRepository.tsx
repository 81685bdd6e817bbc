'use client'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import type { RepositoryDetailViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { NEW_PLACE, placeOf, RepositoryFields, type PlaceForm } from './RepositoryFields'
import { summaryOf, type Report } from './reports'

/** Where a repository is read from, changed: it is read from there at once, and nothing changes if it cannot
 * be. */
export function ChangeRepository({
  detail: { id, name, location, branch, folder, access },
  onDone,
}: {
  detail: RepositoryDetailViewModel
  onDone(): void
}) {
  const { problem, ask } = useAsking(onDone)
  const hasCredentials = access !== 'none'
  const form = useForm<PlaceForm>({
    defaultValues: {
      ...NEW_PLACE,
      name,
      location,
      branch,
      folder,
      access: hasCredentials ? 'kept' : 'none',
    },
  })
  const {
    handleSubmit,
    formState: { isSubmitting, isDirty },
  } = form
  const submit = handleSubmit((values) =>
    ask(async () => {
      const { credentials, ...place } = placeOf(values)
      const isAsBefore = credentials?.kind === 'none' && !hasCredentials
      const report = await api<Report | undefined>(`/api/repositories/${id}`, {
        method: 'PATCH',
        body: { ...place, ...(credentials && !isAsBefore && { credentials }) },
      })
      toast(report ? `${name}: ${summaryOf(report)}` : `${name} is read from there already`)
    }),
  )
  return (
    <form
      onSubmit={(event) => void submit(event)}
      className="flex flex-col gap-3 rounded-oak border border-line bg-surface p-3"
      aria-label={`Where ${name} is read from`}
    >
      <RepositoryFields form={form} hasCredentials={hasCredentials} />
      {problem && <Problem>{problem}</Problem>}
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={isSubmitting || !isDirty}>
          {isSubmitting ? 'Reading' : 'Read it from there'}
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  )
}

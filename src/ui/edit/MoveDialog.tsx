'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { Select, TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import type { Draft } from './useDraft'

type Props = { draft: Draft; onClose(): void }

export function MoveDialog({ draft: { kind, key, viewModel }, onClose }: Props) {
  const { repositories, title } = viewModel!
  const [repositoryId, setRepositoryId] = useState(repositories[0]!.id)
  const [folder, setFolder] = useState('')
  const { problem, ask } = useAsking(() => {
    toast(`It waits to be committed to ${repositories.find(({ id }) => id === repositoryId)!.name}`)
    onClose()
  })
  return (
    <Dialog open onClose={onClose} title={`Move “${title}” to a repository`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={submitting(() =>
          ask(() =>
            api(`/api/definitions/${kind}/${key}/move`, {
              method: 'POST',
              body: { repositoryId, folder: folder.trim() },
            }),
          ),
        )}
      >
        <Field label="Repository">
          <Select value={repositoryId} onChoose={(chosen) => setRepositoryId(Number(chosen))}>
            {repositories.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Folder in it">
          <TextField
            mono
            value={folder}
            placeholder="at its top"
            onChange={({ target }) => setFolder(target.value)}
          />
        </Field>
        <p className="text-sm text-soft">
          Its history goes with it. It becomes a file with the next commit, which is made under Settings,
          Repositories.
        </p>
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit">
            Move
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

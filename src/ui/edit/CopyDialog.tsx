'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { keyOfTitle } from '@/core/model'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { benchPath } from '../bench/path'
import type { Draft } from './useDraft'

type Props = { draft: Draft; onClose(): void }

export function CopyDialog({ draft: { kind, source, viewModel }, onClose }: Props) {
  const router = useRouter()
  const [title, setTitle] = useState(`${viewModel!.title}, a copy`)
  const key = keyOfTitle(kind, kind === 'data' ? title.replace(/\.csv$/, '') : title)
  const { problem, ask } = useAsking(() => {
    onClose()
    router.push(benchPath(kind, key))
  })
  const copy = async () => {
    const { editSource } = await import('@/core/model/editing')
    const text =
      kind === 'data'
        ? source
        : editSource(source, [
            { do: 'set', path: [kind], value: key },
            { do: 'set', path: ['title'], value: title.trim() },
          ])
    await api(`/api/definitions/${kind}/${key}`, { method: 'PUT', body: { source: text, basedOn: 0 } })
  }
  return (
    <Dialog open onClose={onClose} title={`Copy “${viewModel!.title}”`}>
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(copy))}>
        <Field label="Title of the copy">
          <TextField autoFocus value={title} onChange={({ target }) => setTitle(target.value)} />
        </Field>
        {key && (
          <p className="text-sm text-soft">
            Its key is <code className="font-mono text-xs text-ink">{key}</code>. The copy is kept in this
            workspace and has a history of its own.
          </p>
        )}
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit" disabled={key === ''}>
            Copy
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

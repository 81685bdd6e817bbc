'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { keyOfTitle } from '@/core/model'
import type { StartOptions } from '@/core/view-models'
import { usualEnvironments } from '../run/usual'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

/** A new rotation begins with a suite on the environments that are real here; everything else is said on its
 * bench. */
export function NewRotation({ onClose }: { onClose(): void }) {
  const router = useRouter()
  const { data: options } = useViewModel<StartOptions>('/api/start-options', ['definitions', 'fleet'])
  const [title, setTitle] = useState('')
  const [suite, setSuite] = useState('')
  const { problem, ask } = useAsking()
  const key = keyOfTitle('rotation', title)
  const make = async () => {
    const { editSource } = await import('@/core/model/editing')
    const environments = usualEnvironments(options?.environments ?? [])
    const source = editSource(`rotation: ${key}\n`, [
      { do: 'put', path: ['title'], value: title.trim() },
      { do: 'put', path: ['what'], value: suite ? [{ suite }] : [] },
      { do: 'put', path: ['where'], value: environments.length > 0 ? { environments } : { axes: {} } },
    ])
    await api(`/api/definitions/rotation/${key}`, { method: 'PUT', body: { source, basedOn: 0 } })
    onClose()
    router.push(`/rotations/${key}`)
  }
  return (
    <Dialog open onClose={onClose} title="New rotation">
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(make))}>
        <Field label="Title">
          <TextField
            autoFocus
            value={title}
            placeholder="Evening Smoke"
            onChange={({ target }) => setTitle(target.value)}
          />
        </Field>
        {key && (
          <p className="text-sm text-soft">
            Its key is <code className="font-mono text-xs text-ink">{key}</code>: other programs start it by
            that.
          </p>
        )}
        <Field label="It begins with">
          <Select value={suite} onChoose={setSuite}>
            <option value="">nothing yet</option>
            {options?.suites.map((one) => (
              <option key={one.key} value={one.key}>
                {one.title}
              </option>
            ))}
          </Select>
        </Field>
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit" disabled={key === '' || !options}>
            Make it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

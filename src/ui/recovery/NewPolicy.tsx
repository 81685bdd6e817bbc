'use client'
import { useState } from 'react'
import { keyOfTitle } from '@/core/model'
import { writeDefinition } from '@/core/model/editing'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

export function NewPolicy({ onMade, onClose }: { onMade(key: string): void; onClose(): void }) {
  const [title, setTitle] = useState('')
  const key = keyOfTitle('policy', title)
  const { problem, busy, ask } = useAsking(() => {
    onMade(key)
    onClose()
  })
  const make = () =>
    api(`/api/definitions/policy/${key}`, {
      method: 'PUT',
      body: { source: writeDefinition({ kind: 'policy', key, title: title.trim(), rules: [] }), basedOn: 0 },
    })
  return (
    <Dialog open onClose={onClose} title="New policy">
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(make))}>
        <Field label="Title">
          <TextField
            autoFocus
            value={title}
            placeholder="Upsets at the gate"
            onChange={({ target }) => setTitle(target.value)}
          />
        </Field>
        {key && (
          <p className="text-sm text-soft">
            Its key is <code className="font-mono text-xs text-ink">{key}</code>: cases, suites and rotations
            name it by that.
          </p>
        )}
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end">
          <Button look="main" type="submit" disabled={busy || key === ''}>
            Make it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

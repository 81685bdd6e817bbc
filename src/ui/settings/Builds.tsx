'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { OnceShown } from '../base/OnceShown'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Table, type Column } from '../base/Table'
import { Ago } from '../base/Time'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { useFrame } from '../frame/tools'

type Build = SettingsViewModel['builds'][number]

/** Labels of what is under test, the newest first. */
export function Builds({ builds }: { builds: Build[] }) {
  const { may } = useFrame()
  const columns = may('coordinator') ? COLUMNS : COLUMNS.slice(0, -1)
  return (
    <>
      {builds.length > 0 && (
        <Table label="Builds" rows={builds} columns={columns} keyOf={({ label }) => label} className="mb-5" />
      )}
      {may('coordinator') ? (
        <>
          <AddBuild />
          <BuildsWebhook />
        </>
      ) : (
        <p className="text-sm text-soft">A coordinator adds them.</p>
      )}
    </>
  )
}

const COLUMNS: Column<Build>[] = [
  {
    head: 'Label',
    as: 'name',
    look: 'font-mono text-xs',
    by: ({ label }) => label,
    cell: ({ label }) => label,
  },
  {
    head: 'Added',
    look: 'text-soft',
    by: ({ createdAt }) => createdAt,
    cell: ({ createdAt }) => <Ago at={createdAt} />,
  },
  {
    head: 'Runs',
    by: ({ runs }) => runs,
    cell: ({ runs }) => (runs === 0 ? <span className="text-soft">none</span> : plural(runs, 'run')),
  },
  {
    head: 'Do',
    as: 'do',
    cell: ({ label, runs }) => (
      <RemoveButton
        label={`Remove ${label}`}
        title={`Remove the build ${label}`}
        onRemove={() => api(`/api/builds/${encodeURIComponent(label)}`, { method: 'DELETE' })}
      >
        {runs > 0 ? `${plural(runs, 'run')} of it stay as they are.` : 'No run was of it.'} It is not offered
        any more, and is not taken for the newest.
      </RemoveButton>
    ),
  },
]

/** Another program names builds by a signed message. */
function BuildsWebhook() {
  const [secret, setSecret] = useState<string>()
  const { problem, busy, ask } = useAsking()
  const make = async () => {
    setSecret((await api<{ secret: string }>('/api/builds/webhook', { method: 'PUT' })).secret)
  }
  return (
    <div className="mt-3 text-sm text-soft">
      A program that signs its messages (Standard Webhooks) names one by POST /api/builds/webhook.{' '}
      <Button disabled={busy} onClick={() => void ask(make)}>
        Make a secret for it
      </Button>
      {secret && (
        <OnceShown text={secret}>It signs the messages. An older one is worth nothing now.</OnceShown>
      )}
      {problem && <Problem>{problem}</Problem>}
    </div>
  )
}

function AddBuild() {
  const [label, setLabel] = useState('')
  const { problem, busy, ask } = useAsking()
  const add = async () => {
    await api('/api/builds', { method: 'POST', body: { label: label.trim() } })
    toast(`${label.trim()} is the newest build`)
    setLabel('')
  }
  return (
    <form
      aria-label="Add a build"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(add))}
    >
      <div className="flex items-start gap-2">
        <Field
          label="Label"
          hint="Letters, digits, dots and dashes. A build system adds one by POST /api/builds, with a CI token."
          className="w-96"
        >
          <TextField mono value={label} onChange={({ target }) => setLabel(target.value)} />
        </Field>
        <Button look="main" type="submit" className="mt-5" disabled={busy || label.trim() === ''}>
          Add
        </Button>
      </div>
      {problem && <Problem>{problem}</Problem>}
    </form>
  )
}

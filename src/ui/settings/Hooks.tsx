'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'
import { Table, type Column } from '../base/Table'

const EVENTS = [
  ['run.started', 'a run starts'],
  ['run.ended', 'a run ends'],
  ['failure.new', 'a case fails that passed before'],
] as const
const WORDS = new Map<string, string>(EVENTS)

/** Addresses that are told what happens to runs. */
export function Hooks({ hooks }: Pick<SettingsViewModel, 'hooks'>) {
  const { may } = useFrame()
  return (
    <>
      {hooks.length > 0 && (
        <Table label="Addresses" rows={hooks} columns={COLUMNS} keyOf={({ id }) => id} className="mb-5" />
      )}
      {may('admin') ? <AddHook /> : <p className="text-sm text-soft">An administrator names them.</p>}
    </>
  )
}

type Hook = SettingsViewModel['hooks'][number]

const COLUMNS: Column<Hook>[] = [
  {
    head: 'Address',
    as: 'name',
    look: 'font-mono text-xs break-all',
    by: ({ address }) => address,
    cell: ({ address }) => address,
  },
  {
    head: 'Told when',
    look: 'text-soft',
    cell: ({ events }) => events.map((event) => WORDS.get(event) ?? event).join(', '),
  },
  {
    head: 'Last answer',
    by: ({ lastAt }) => lastAt,
    cell: ({ lastAt, lastAnswer }) => <LastAnswer at={lastAt} answer={lastAnswer} />,
  },
  { head: 'Do', as: 'do', cell: ({ id, address }) => <RemoveHook id={id} address={address} /> },
]

function LastAnswer({ at, answer }: { at: string | null; answer: string | null }) {
  if (answer === null || at === null) return <span className="text-soft">nothing was sent yet</span>
  return (
    <>
      <span className={/^2/.test(answer) ? '' : 'text-failed'}>{answer}</span>{' '}
      <span className="text-soft">
        <Ago at={at} />
      </span>
    </>
  )
}

function RemoveHook({ id, address }: Pick<Hook, 'id' | 'address'>) {
  const { may } = useFrame()
  if (!may('admin')) return null
  return (
    <RemoveButton
      label={`Remove ${address}`}
      title="Remove this address"
      onRemove={() => api(`/api/hooks/${id}`, { method: 'DELETE' })}
    >
      It is told nothing more; what waits to be sent again is dropped.
    </RemoveButton>
  )
}

function AddHook() {
  const [address, setAddress] = useState('')
  const [events, setEvents] = useState<string[]>(['run.ended'])
  const [secret, setSecret] = useState<string>()
  const { problem, ask } = useAsking()
  const add = async () => {
    setSecret(
      (
        await api<{ secret: string }>('/api/hooks', {
          method: 'POST',
          body: { address: address.trim(), events },
        })
      ).secret,
    )
    setAddress('')
    toast('It is told from now on')
  }
  return (
    <form className="flex flex-col items-start gap-3" onSubmit={submitting(() => ask(add))}>
      <Field label="Address" className="w-full max-w-[520px]">
        <TextField
          mono
          placeholder="https://ci.fennel-sound.invalid/oak"
          value={address}
          onChange={({ target }) => setAddress(target.value)}
        />
      </Field>
      <fieldset className="flex flex-wrap gap-4 text-sm">
        <legend className="label mb-1">Told when</legend>
        {EVENTS.map(([event, words]) => (
          <label key={event} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-[var(--act)]"
              checked={events.includes(event)}
              onChange={({ target }) =>
                setEvents(target.checked ? [...events, event] : events.filter((one) => one !== event))
              }
            />
            {words}
          </label>
        ))}
      </fieldset>
      {problem && <Problem>{problem}</Problem>}
      {secret && (
        <p className="text-sm">
          What is sent is signed with <code className="font-mono text-xs">{secret}</code>, shown only now.
        </p>
      )}
      <Button look="main" type="submit" disabled={address.trim() === '' || events.length === 0}>
        Add
      </Button>
    </form>
  )
}

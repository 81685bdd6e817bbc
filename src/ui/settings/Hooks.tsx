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
import { useFrame } from '../frame/Frame'
import { cell, head } from './looks'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'

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
        <table className="mb-5 w-full text-sm">
          <thead>
            <tr className="border-b border-line">
              <th className={head}>Address</th>
              <th className={head}>Told when</th>
              <th className={head}>Last answer</th>
              <th />
            </tr>
          </thead>
          <tbody className="divide-y divide-line">
            {hooks.map(({ id, address, events, lastAt, lastAnswer }) => (
              <tr key={id}>
                <td className={`${cell} font-mono text-xs break-all`}>{address}</td>
                <td className={`${cell} text-soft`}>
                  {events.map((event) => WORDS.get(event) ?? event).join(', ')}
                </td>
                <td className={cell}>
                  {lastAnswer === null ? (
                    <span className="text-soft">nothing was sent yet</span>
                  ) : (
                    <>
                      <span className={/^2/.test(lastAnswer) ? '' : 'text-failed'}>{lastAnswer}</span>{' '}
                      <span className="text-soft">
                        <Ago at={lastAt!} />
                      </span>
                    </>
                  )}
                </td>
                <td className="text-right">
                  {may('admin') && (
                    <RemoveButton
                      label={`Remove ${address}`}
                      title="Remove this address"
                      onRemove={() => api(`/api/hooks/${id}`, { method: 'DELETE' })}
                    >
                      It is told nothing more; what waits to be sent again is dropped.
                    </RemoveButton>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {may('admin') ? <AddHook /> : <p className="text-sm text-soft">An administrator names them.</p>}
    </>
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
      <label className="w-full max-w-[520px]">
        <span className="label">Address</span>
        <TextField
          mono
          placeholder="https://ci.fennel-sound.invalid/oak"
          value={address}
          onChange={({ target }) => setAddress(target.value)}
        />
      </label>
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

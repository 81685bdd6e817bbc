'use client'
import { useState } from 'react'
import type { YouViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { OnceShown } from '../base/OnceShown'
import { Problem } from '../base/Parts'
import { Ago } from '../base/Time'
import { PasswordField } from './PasswordField'
import { TextField } from '../base/fields'
import { Field } from '../base/Field'

type Begun = { secret: string; picture: string }
type Props = { state: YouViewModel['secondFactor']; onChange(): void }

/** Codes of a device, asked for with the password. */
export function SecondFactor({ state, onChange }: Props) {
  const [begun, setBegun] = useState<Begun>()
  const [codes, setCodes] = useState<string[]>()
  const { problem, busy, ask } = useAsking()
  const begin = async () => setBegun(await api<Begun>('/api/you/second-factor', { method: 'POST' }))
  const confirmed = (made: string[]) => {
    setBegun(undefined)
    setCodes(made)
    onChange()
  }
  return (
    <div className="rounded-oak border border-line bg-surface p-3 text-sm">
      {state && <TakeOff state={state} onDone={onChange} />}
      {!state && !begun && (
        <div className="flex items-center gap-3">
          <p className="flex-1">
            A code that changes every half minute is asked for with your password: any program for such codes
            (TOTP) shows it.
          </p>
          <Button disabled={busy} onClick={() => void ask(begin)}>
            Set one up
          </Button>
        </div>
      )}
      {!state && begun && <Confirm begun={begun} onDone={confirmed} />}
      {codes && (
        <OnceShown text={codes.join(' ')}>
          When your device is lost, each of these gets you in once, in place of a code. Keep them on paper;
          they are shown only now.
        </OnceShown>
      )}
      {problem && <Problem>{problem}</Problem>}
    </div>
  )
}

function Confirm({ begun, onDone }: { begun: Begun; onDone(codes: string[]): void }) {
  const [code, setCode] = useState('')
  const { problem, busy, ask } = useAsking()
  const confirm = async () => {
    const { recoveryCodes } = await api<{ recoveryCodes: string[] }>('/api/you/second-factor', {
      method: 'PUT',
      body: { code: code.trim() },
    })
    onDone(recoveryCodes)
  }
  return (
    <form
      aria-label="Confirm the second factor"
      className="flex gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        void ask(confirm)
      }}
    >
      <img
        src={begun.picture}
        alt="The secret as a picture for your device"
        className="size-[148px] shrink-0 rounded-oak bg-white p-1"
      />
      <div className="flex min-w-0 flex-1 flex-col gap-2">
        <p>Show this to your device, or write the secret into it:</p>
        <code className="font-mono text-xs break-all">{begun.secret}</code>
        <div className="grid grid-cols-[140px_auto_1fr] items-end gap-2">
          <Field label="The code it shows">
            <TextField
              mono
              value={code}
              maxLength={8}
              inputMode="numeric"
              autoComplete="one-time-code"
              onChange={({ target }) => setCode(target.value)}
            />
          </Field>
          <Button look="main" type="submit" disabled={busy || code.trim() === ''}>
            Confirm
          </Button>
        </div>
        {problem && <Problem>{problem}</Problem>}
      </div>
    </form>
  )
}

function TakeOff({ state, onDone }: { state: NonNullable<YouViewModel['secondFactor']>; onDone(): void }) {
  const [password, setPassword] = useState('')
  const { problem, busy, ask } = useAsking(onDone)
  const remove = () => api('/api/you/second-factor', { method: 'DELETE', body: { password } })
  return (
    <form
      aria-label="Take the second factor off"
      onSubmit={(event) => {
        event.preventDefault()
        void ask(remove)
      }}
    >
      <p>
        Set up <Ago at={state.since} />; {state.recoveryCodes} recovery codes are left.
      </p>
      <div className="mt-2 grid grid-cols-[220px_auto_1fr] items-end gap-2">
        <PasswordField label="Your password" value={password} onChange={setPassword} />
        <Button type="submit" disabled={busy || password === ''}>
          Take it off
        </Button>
      </div>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

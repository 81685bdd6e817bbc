'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { PASSWORD_CHARS } from '@/core/people'
import type { YouViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { Ago } from '../base/Time'
import { PasswordField } from './PasswordField'
import { SecondFactor } from './SecondFactor'
import { Table, type Column } from '../base/Table'

/** One's own password, second factor and sessions. */
export function You() {
  const { data: you, refetch } = useViewModel<YouViewModel>('/api/you', [])
  const again = () => void refetch()
  return (
    <div className="flex flex-col gap-6">
      <section aria-label="Password">
        <h3 className="mb-2 font-semibold">Password</h3>
        <ChangePassword onDone={again} />
      </section>
      {you && (
        <section aria-label="Second factor">
          <h3 className="mb-2 font-semibold">Second factor</h3>
          <SecondFactor state={you.secondFactor} onChange={again} />
        </section>
      )}
      {you && (
        <section aria-label="Sessions">
          <h3 className="mb-2 font-semibold">Where you are signed in</h3>
          <Sessions sessions={you.sessions} onChange={again} />
        </section>
      )}
    </div>
  )
}

function ChangePassword({ onDone }: { onDone(): void }) {
  const [current, setCurrent] = useState('')
  const [next, setNext] = useState('')
  const { problem, busy, ask } = useAsking(onDone)
  const change = async () => {
    await api('/api/you/password', { method: 'PUT', body: { current, next } })
    toast('Your password is changed, and you are signed out everywhere else')
    setCurrent('')
    setNext('')
  }
  return (
    <form
      aria-label="Change the password"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={(event) => {
        event.preventDefault()
        void ask(change)
      }}
    >
      <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
        <PasswordField label="The one you have" value={current} onChange={setCurrent} />
        <PasswordField
          label={`A new one, at least ${PASSWORD_CHARS.least} characters`}
          kind="new-password"
          value={next}
          onChange={setNext}
        />
        <Button look="main" type="submit" disabled={busy || current === '' || next === ''}>
          Change it
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

/** "Firefox on Linux", as far as a program says what it is. */
function programOf(text: string): string {
  const browser = /(Firefox|Edg|Chrome|Safari)/.exec(text)?.[1]?.replace('Edg', 'Edge') ?? 'a program'
  const system = /(Windows|Mac OS|Android|iPhone|iPad|Linux)/.exec(text)?.[1]
  return system ? `${browser} on ${system}` : browser
}

type Session = YouViewModel['sessions'][number]

const SESSION_COLUMNS: Column<Session>[] = [
  {
    head: 'With',
    as: 'name',
    cell: ({ program, here }) => (
      <span title={program}>
        {programOf(program)}
        {here && <b className="ml-2 font-semibold">this one</b>}
      </span>
    ),
  },
  {
    head: 'From',
    look: 'font-mono text-xs text-soft',
    by: ({ address }) => address,
    cell: ({ address }) => address || 'not known',
  },
  {
    head: 'Since',
    look: 'text-soft',
    by: ({ createdAt }) => createdAt,
    cell: ({ createdAt }) => <Ago at={createdAt} />,
  },
  {
    head: 'Last seen',
    look: 'text-soft',
    by: ({ seenAt }) => seenAt,
    cell: ({ seenAt }) => <Ago at={seenAt} />,
  },
]

function Sessions({ sessions, onChange }: { sessions: YouViewModel['sessions']; onChange(): void }) {
  const { problem, busy, ask } = useAsking(onChange)
  const end = (path: string) => void ask(() => api(path, { method: 'DELETE' }))
  const columns: Column<Session>[] = [
    ...SESSION_COLUMNS,
    {
      head: 'Do',
      as: 'do',
      cell: ({ id, here }) =>
        !here && (
          <Button disabled={busy} onClick={() => end(`/api/you/sessions/${id}`)}>
            End it
          </Button>
        ),
    },
  ]
  return (
    <>
      <Table label="Sessions" rows={sessions} columns={columns} keyOf={({ id }) => id} />
      {sessions.length > 1 && (
        <Button className="mt-2" disabled={busy} onClick={() => end('/api/you/sessions')}>
          End all others
        </Button>
      )}
      {problem && <Problem>{problem}</Problem>}
    </>
  )
}

'use client'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import type { MemberViewModel, Role } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { OnceShown } from '../base/OnceShown'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'
import { Hint } from '../base/Hint'
import { Table, type Column } from '../base/Table'

const ROLES: readonly Role[] = ['viewer', 'tester', 'coordinator', 'admin']
const MAY: Record<Role, string> = {
  viewer: 'reads everything',
  tester: 'also writes cases, starts runs, logs defects',
  coordinator: 'also plans rotations, sets secrets, adds agents and tokens',
  admin: 'also sets databases and people, reads the audit trail',
}

const linkOf = (link: string) => `${window.location.origin}/welcome/${link}`

type Reset = { name: string; link: string }

/** Everybody who may sign in, and how each got in. */
export function People() {
  const { data: members } = useViewModel<MemberViewModel[]>('/api/people', ['settings'])
  const [reset, setReset] = useState<Reset>()
  const columns = useMemo(() => columnsOf(setReset), [])
  return (
    <>
      {members && (
        <Table
          label="People"
          rows={members}
          columns={columns}
          keyOf={({ id }) => id}
          rowLook={({ state }) => (state === 'deactivated' ? 'text-soft' : '')}
          className="mb-5"
        />
      )}
      {reset && (
        <div className="mb-5 rounded-oak border border-line bg-surface p-3">
          <OnceShown text={linkOf(reset.link)}>
            Give this link to {reset.name}: it sets a password, once. It is shown only now.
          </OnceShown>
        </div>
      )}
      <Invite />
    </>
  )
}

const columnsOf = (onReset: (reset: Reset) => void): Column<MemberViewModel>[] => [
  { head: 'Name', as: 'name', by: ({ name }) => name, cell: ({ name }) => name },
  {
    head: 'Signs in as',
    look: 'font-mono text-xs',
    by: ({ username }) => username,
    cell: ({ username }) => username,
  },
  { head: 'Role', by: ({ role }) => ROLES.indexOf(role), cell: (member) => <RoleChoice member={member} /> },
  {
    head: 'Last seen',
    look: 'text-soft',
    by: ({ seenAt }) => seenAt,
    cell: ({ state, seenAt }) => <Seen state={state} seenAt={seenAt} />,
  },
  {
    head: 'Second factor',
    look: 'text-soft',
    by: ({ secondFactor }) => Number(secondFactor),
    cell: ({ secondFactor }) => (secondFactor ? 'yes' : 'no'),
  },
  {
    head: 'Do',
    as: 'do',
    cell: (member) => (
      <>
        {member.state !== 'deactivated' && (
          <ResetButton
            id={member.id}
            name={member.name}
            onReset={(link) => onReset({ name: member.name, link })}
          />
        )}
        <ActiveButton member={member} />
      </>
    ),
  },
]

function Seen({ state, seenAt }: Pick<MemberViewModel, 'state' | 'seenAt'>) {
  if (state === 'invited') return 'invited, has not come yet'
  if (state === 'deactivated') return 'deactivated'
  return seenAt ? <Ago at={seenAt} /> : 'not signed in now'
}

const change = (id: string, body: object, done: string) =>
  api(`/api/people/${id}`, { method: 'PATCH', body }).then(
    () => toast(done),
    (problem: ApiProblem) => toast.error(problem.message),
  )

function RoleChoice({ member: { id, name, role, state } }: { member: MemberViewModel }) {
  const choose = (next: string) => void change(id, { role: next }, `${name} is ${next} from now on`)
  return (
    <Hint text={MAY[role]}>
      <Select
        aria-label={`Role of ${name}`}
        width="w-auto"
        value={role}
        disabled={state === 'deactivated'}
        onChoose={choose}
      >
        {ROLES.map((one) => (
          <option key={one} value={one}>
            {one}
          </option>
        ))}
      </Select>
    </Hint>
  )
}

function ResetButton({ id, name, onReset }: { id: string; name: string; onReset(link: string): void }) {
  const reset = async () => {
    const { link } = await api<{ link: string }>(`/api/people/${id}/reset`, {
      method: 'POST',
      body: { secondFactor: true },
    })
    onReset(link)
  }
  return (
    <RemoveButton word="Reset" label={`Reset ${name}`} title={`Reset how ${name} signs in`} onRemove={reset}>
      The password and all sessions of {name} end now, the second factor is taken off, and you get a link by
      which a new password is set.
    </RemoveButton>
  )
}

function ActiveButton({ member: { id, name, state } }: { member: MemberViewModel }) {
  const { person } = useFrame()
  if (name === person.name) return null
  if (state === 'deactivated') {
    return (
      <Button onClick={() => void change(id, { state: 'active' }, `${name} may sign in again`)}>
        Let in again
      </Button>
    )
  }
  return (
    <RemoveButton
      word="Deactivate"
      label={`Deactivate ${name}`}
      title={`Deactivate ${name}`}
      onRemove={() => api(`/api/people/${id}`, { method: 'PATCH', body: { state: 'deactivated' } })}
    >
      {name} is signed out everywhere and may not sign in. What they did stays under their name, and they can
      be let in again.
    </RemoveButton>
  )
}

function Invite() {
  const [name, setName] = useState('')
  const [username, setUsername] = useState('')
  const [role, setRole] = useState<Role>('tester')
  const [made, setMade] = useState<{ name: string; link: string }>()
  const { problem, busy, ask } = useAsking()
  const invite = async () => {
    const body = { name: name.trim(), username: username.trim(), role }
    const { link } = await api<{ link: string }>('/api/people', { method: 'POST', body })
    setMade({ name: body.name, link })
    setName('')
    setUsername('')
  }
  return (
    <form
      aria-label="Invite a person"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={(event) => {
        event.preventDefault()
        void ask(invite)
      }}
    >
      <div className="grid grid-cols-[1fr_160px_auto_auto] items-end gap-2">
        <Field label="Name">
          <TextField
            value={name}
            maxLength={80}
            placeholder="Isla Brandt"
            onChange={({ target }) => setName(target.value)}
          />
        </Field>
        <Field label="Signs in as">
          <TextField
            mono
            value={username}
            maxLength={31}
            placeholder="isla"
            autoCapitalize="off"
            onChange={({ target }) => setUsername(target.value)}
          />
        </Field>
        <Field label="Role">
          <Select value={role} onChoose={(chosen) => setRole(chosen as Role)}>
            {ROLES.map((one) => (
              <option key={one} value={one}>
                {one}
              </option>
            ))}
          </Select>
        </Field>
        <Button look="main" type="submit" disabled={busy || name.trim() === '' || username.trim() === ''}>
          Invite
        </Button>
      </div>
      <p className="mt-1.5 text-xs text-soft">
        A {role} {MAY[role]}.
      </p>
      {made && (
        <OnceShown text={linkOf(made.link)}>
          Give this link to {made.name}: it is good for seven days, once, and shown only now.
        </OnceShown>
      )}
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

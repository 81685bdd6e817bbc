'use client'
import Link from '../base/Link'
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

const FOR = { ci: 'CI', agent: 'agents', calendar: 'reading the rota' }

export function Tokens({ tokens }: Pick<SettingsViewModel, 'tokens'>) {
  const { may } = useFrame()
  return (
    <>
      {tokens.length > 0 && (
        <Table label="Tokens" rows={tokens} columns={COLUMNS} keyOf={({ id }) => id} className="mb-5" />
      )}
      {may('coordinator') ? <MakeToken /> : <p className="text-sm text-soft">A coordinator makes them.</p>}
      <p className="mt-3 text-sm text-soft">
        A token for an agent is made where agents are added:{' '}
        <Link className="underline" href="/fleet">
          Fleet
        </Link>
        .
      </p>
    </>
  )
}

type Token = SettingsViewModel['tokens'][number]

const COLUMNS: Column<Token>[] = [
  { head: 'Name', as: 'name', by: ({ name }) => name, cell: ({ name }) => name },
  { head: 'For', look: 'text-soft', by: ({ purpose }) => FOR[purpose], cell: ({ purpose }) => FOR[purpose] },
  {
    head: 'Made',
    look: 'text-soft',
    by: ({ createdAt }) => createdAt,
    cell: ({ createdBy, createdAt }) => (
      <>
        {createdBy && `by ${createdBy}, `}
        <Ago at={createdAt} />
      </>
    ),
  },
  {
    head: 'Last used',
    look: 'text-soft',
    by: ({ usedAt }) => usedAt,
    cell: ({ usedAt }) => (usedAt ? <Ago at={usedAt} /> : 'never'),
  },
  { head: 'Do', as: 'do', cell: (token) => <RevokeToken token={token} /> },
]

function RevokeToken({ token: { id, name, agents } }: { token: Token }) {
  const { may } = useFrame()
  if (!may('coordinator')) return null
  return (
    <RemoveButton
      word="Revoke"
      label={`Revoke ${name}`}
      title={`Revoke “${name}”`}
      onRemove={() => api(`/api/tokens/${id}`, { method: 'DELETE' })}
    >
      {agents.length > 0
        ? `${agents.join(', ')} ${agents.length === 1 ? 'gets' : 'get'} in with it: what they carry out ` +
          'now is lost to them at once, and is run again by others.'
        : 'Whoever uses it is refused from now on.'}{' '}
      It cannot be brought back.
    </RemoveButton>
  )
}

function MakeToken() {
  const [name, setName] = useState('')
  const [token, setToken] = useState<string>()
  const { problem, ask } = useAsking()
  const make = async () => {
    setToken(
      (await api<{ token: string }>('/api/tokens', { method: 'POST', body: { name: name.trim() } })).token,
    )
    setName('')
  }
  return (
    <form
      aria-label="Make a CI token"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(make))}
    >
      <div className="grid grid-cols-[1fr_auto] items-end gap-2">
        <Field label="What your build system is called">
          <TextField
            value={name}
            maxLength={60}
            placeholder="night build"
            onChange={({ target }) => setName(target.value)}
          />
        </Field>
        <Button look="main" type="submit" disabled={name.trim() === ''}>
          Make a CI token
        </Button>
      </div>
      {token && (
        <div role="status" className="mt-3 text-sm">
          <p>
            This is the only time it is shown. Give it to your build system as{' '}
            <code className="font-mono text-xs">OAK_TOKEN</code>.
          </p>
          <div className="mt-1 flex items-center gap-2">
            <code className="min-w-0 flex-1 rounded-oak border border-line bg-ground px-2 py-1 font-mono text-xs break-all">
              {token}
            </code>
            <Button onClick={() => void navigator.clipboard.writeText(token).then(() => toast('Copied'))}>
              Copy
            </Button>
          </div>
        </div>
      )}
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

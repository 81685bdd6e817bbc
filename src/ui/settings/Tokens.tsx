'use client'
import Link from 'next/link'
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

const FOR = { ci: 'CI', agent: 'agents', calendar: 'reading the rota' }

export function Tokens({ tokens }: Pick<SettingsViewModel, 'tokens'>) {
  const { may } = useFrame()
  return (
    <>
      {tokens.length > 0 && (
        <table className="mb-5 w-full text-sm">
          <thead>
            <tr className="border-b border-line">
              <th className={head}>Name</th>
              <th className={head}>For</th>
              <th className={head}>Made</th>
              <th className={head}>Last used</th>
              <th />
            </tr>
          </thead>
          <tbody className="divide-y divide-line">
            {tokens.map(({ id, purpose, name, createdBy, createdAt, usedAt, agents }) => (
              <tr key={id}>
                <td className={cell}>{name}</td>
                <td className={`${cell} text-soft`}>{FOR[purpose]}</td>
                <td className={`${cell} text-soft`}>
                  {createdBy && `by ${createdBy}, `}
                  <Ago at={createdAt} />
                </td>
                <td className={`${cell} text-soft`}>{usedAt ? <Ago at={usedAt} /> : 'never'}</td>
                <td className="text-right">
                  {may('coordinator') && (
                    <RemoveButton
                      word="Revoke"
                      label={`Revoke ${name}`}
                      title={`Revoke “${name}”`}
                      onRemove={() => api(`/api/tokens/${id}`, { method: 'DELETE' })}
                    >
                      {agents.length > 0
                        ? `${agents.join(', ')} ${agents.length === 1 ? 'gets' : 'get'} in with it: what they carry out now is lost to them at once, and is run again by others.`
                        : 'Whoever uses it is refused from now on.'}{' '}
                      It cannot be brought back.
                    </RemoveButton>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
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
        <label>
          <span className="label">What your build system is called</span>
          <TextField
            value={name}
            maxLength={60}
            placeholder="night build"
            onChange={({ target }) => setName(target.value)}
          />
        </label>
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

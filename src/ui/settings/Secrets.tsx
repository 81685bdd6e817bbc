'use client'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { plural, type SettingsViewModel } from '@/core/view-models'
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
import { UsedBy } from './UsedBy'
import { useWanted } from './wanted'

/** Names, who set them and when; a value goes in and never comes out. */
export function Secrets({
  secrets,
  missing,
  applications,
  pools,
}: Pick<SettingsViewModel, 'secrets' | 'missing' | 'pools'> & { applications: string[] }) {
  const { may } = useFrame()
  const [name, setName] = useWanted()
  const change = may('coordinator')
  const columns = useMemo(() => columnsOf(change ? setName : undefined), [change, setName])
  return (
    <>
      {missing.length > 0 && (
        <div className="mb-4">
          <Problem>
            Cases name{' '}
            {missing.map((one, i) => (
              <span key={one}>
                {i > 0 && ', '}
                <button type="button" className="font-mono text-xs underline" onClick={() => setName(one)}>
                  {one}
                </button>
              </span>
            ))}{' '}
            and it is not set: their steps will fail, saying so.
          </Problem>
        </div>
      )}
      {secrets.length > 0 && (
        <Table label="Secrets" rows={secrets} columns={columns} keyOf={({ name }) => name} className="mb-5" />
      )}
      {change ? (
        <SetSecret key={name} first={name} known={secrets} applications={applications} pools={pools} />
      ) : (
        <p className="text-sm text-soft">A coordinator sets them.</p>
      )}
    </>
  )
}

type Secret = SettingsViewModel['secrets'][number]
type Scope = Pick<Secret, 'applications' | 'pools'>
const ANYWHERE: Scope = { applications: [], pools: [] }

const scopeInWords = ({ applications, pools }: Scope) =>
  [applications.length > 0 && applications.join(', '), pools.length > 0 && `agents of ${pools.join(', ')}`]
    .filter(Boolean)
    .join('; ') || <span className="text-soft">any case, any agent</span>

/** @param onNew is asked to set a new value; without it nothing can be changed */
const columnsOf = (onNew: ((name: string) => void) | undefined): Column<Secret>[] => [
  { head: 'Name', as: 'name', look: 'font-mono text-xs', by: ({ name }) => name, cell: ({ name }) => name },
  { head: 'For', cell: scopeInWords },
  { head: 'Used by', by: ({ uses }) => uses, cell: ({ uses }) => <UsedBy uses={uses} /> },
  {
    head: 'Set',
    look: 'text-soft',
    by: ({ setAt }) => setAt,
    cell: ({ setBy, setAt }) => (
      <>
        by {setBy}, <Ago at={setAt} />
      </>
    ),
  },
  {
    head: 'Do',
    as: 'do',
    cell: ({ name, uses }) => onNew && <ChangeSecret name={name} uses={uses} onNew={onNew} />,
  },
]

function ChangeSecret({ name, uses, onNew }: { name: string; uses: number; onNew(name: string): void }) {
  return (
    <>
      <Button
        look="quiet"
        className="!h-6 !px-2"
        aria-label={`New value for ${name}`}
        onClick={() => onNew(name)}
      >
        New value
      </Button>
      <RemoveButton
        label={`Remove ${name}`}
        title={`Remove ${name}`}
        onRemove={() => api(`/api/secrets/${name}`, { method: 'DELETE' })}
      >
        {uses > 0
          ? `${plural(uses, 'case or routine names', 'cases and routines name')} it; their steps will ` +
            'fail, saying so.'
          : 'Nothing names it.'}{' '}
        The value cannot be brought back.
      </RemoveButton>
    </>
  )
}

type SetSecretProps = {
  first: string
  known: SettingsViewModel['secrets']
  applications: string[]
  pools: string[]
}
function SetSecret({ first, known, applications, pools }: SetSecretProps) {
  const [name, setName] = useState(first)
  const standing = known.find((secret) => secret.name === name.trim())
  const [chosen, setChosen] = useState<Scope>()
  const scope = chosen ?? standing ?? ANYWHERE
  const [value, setValue] = useState('')
  const { problem, ask } = useAsking()
  const set = async () => {
    await api(`/api/secrets/${encodeURIComponent(name.trim())}`, {
      method: 'PUT',
      body: { value, applications: scope.applications, pools: scope.pools },
    })
    toast(`${name.trim()} is set`)
    setName('')
    setValue('')
    setChosen(undefined)
  }
  return (
    <form
      aria-label="Set a secret"
      className="rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(() => ask(set))}
    >
      <div className="grid grid-cols-[220px_1fr_auto] items-end gap-2">
        <Field label="Name">
          <TextField
            mono
            value={name}
            placeholder="DESK_PASSWORD"
            onChange={({ target }) => setName(target.value)}
          />
        </Field>
        <Field label="Value">
          <TextField
            autoFocus={first !== ''}
            type="password"
            autoComplete="off"
            value={value}
            onChange={({ target }) => setValue(target.value)}
          />
        </Field>
        <Button look="main" type="submit" disabled={name.trim() === '' || value === ''}>
          {standing ? 'Set the new value' : 'Set'}
        </Button>
      </div>
      <div className="mt-3 flex flex-wrap gap-x-8 gap-y-2">
        <Choices
          title="Only for cases that touch no other application than"
          all={[...applications, ...scope.applications]}
          chosen={scope.applications}
          onChange={(next) => setChosen({ ...scope, applications: next })}
        />
        <Choices
          title="Only for agents of the pools"
          all={[...pools, ...scope.pools]}
          chosen={scope.pools}
          onChange={(next) => setChosen({ ...scope, pools: next })}
        />
      </div>
      <p className="mt-2 text-sm text-soft">
        With none chosen it may be used anywhere. A step that names a secret which is not for its case or its
        agent fails, saying so.
      </p>
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

function Choices({
  title,
  all,
  chosen,
  onChange,
}: {
  title: string
  all: string[]
  chosen: string[]
  onChange(next: string[]): void
}) {
  const names = [...new Set(all)].sort()
  if (names.length === 0) return null
  return (
    <fieldset>
      <legend className="label">{title}</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
        {names.map((name) => (
          <label key={name} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={chosen.includes(name)}
              onChange={({ target }) =>
                onChange(target.checked ? [...chosen, name] : chosen.filter((one) => one !== name))
              }
            />
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  )
}

'use client'
import { useMemo } from 'react'
import { toast } from 'sonner'
import type { Application } from '@/core/model'
import { plural, type SettingsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Table, type Column } from '../base/Table'
import { useFrame } from '../frame/tools'
import { ApplicationForm } from './ApplicationForm'
import { UsedBy } from './UsedBy'
import { useWanted } from './wanted'

type Line = SettingsViewModel['applications'][number]

/** What is under test. A new one, and a change, is tried before it is kept. */
export function Applications({ applications, unknown }: { applications: Line[]; unknown: string[] }) {
  const { may } = useFrame()
  const change = may('coordinator')
  const [chosen, setChosen] = useWanted()
  const columns = useMemo(() => columnsOf(change ? setChosen : undefined), [change, setChosen])
  const known = applications.find(({ key }) => key === chosen)
  return (
    <>
      {unknown.length > 0 && (
        <div className="mb-4">
          <Problem>
            Cases name{' '}
            {unknown.map((key, i) => (
              <span key={key}>
                {i > 0 && ', '}
                <button type="button" className="font-mono text-xs underline" onClick={() => setChosen(key)}>
                  {key}
                </button>
              </span>
            ))}{' '}
            and there is no application of that key: their steps will fail, saying so.
          </Problem>
        </div>
      )}
      {applications.length > 0 && (
        <Table
          label="Applications"
          rows={applications}
          columns={columns}
          keyOf={({ key }) => key}
          className="mb-5"
        />
      )}
      {change ? (
        <ApplicationForm
          key={known ? `${chosen} ${JSON.stringify(known)}` : chosen}
          first={known ?? { ...EMPTY, key: chosen }}
          isNew={!known}
          onDone={() => setChosen('')}
        />
      ) : (
        <p className="text-sm text-soft">A coordinator names them.</p>
      )}
    </>
  )
}

const EMPTY: Application = { key: '', title: '', address: '', stages: {}, probe: null, owner: '', mail: '' }

/** @param onChange is asked to change one; without it nothing can be changed */
const columnsOf = (onChange: ((key: string) => void) | undefined): Column<Line>[] => [
  { head: 'Key', as: 'name', look: 'font-mono text-xs', by: ({ key }) => key, cell: ({ key }) => key },
  { head: 'Title', by: ({ title }) => title, cell: ({ title }) => title },
  { head: 'Where', look: 'font-mono text-xs break-all text-soft', cell: (line) => <Places line={line} /> },
  {
    head: 'Answered for by',
    by: ({ owner }) => owner,
    cell: ({ owner, mail }) =>
      owner || mail ? [owner, mail].filter(Boolean).join(', ') : <span className="text-soft">nobody</span>,
  },
  { head: 'Used by', by: ({ uses }) => uses, cell: ({ uses }) => <UsedBy uses={uses} /> },
  {
    head: 'Do',
    as: 'do',
    cell: (line) => onChange && <ChangeApplication line={line} onChange={onChange} />,
  },
]

function Places({ line: { address, stages } }: { line: Line }) {
  return (
    <>
      {address}
      {Object.entries(stages).map(([stage, one]) => (
        <span key={stage} className="block">
          {stage}: {one}
        </span>
      ))}
    </>
  )
}

type Tried = { stage: string; address: string; problem?: string }

function ChangeApplication({ line: { key, uses }, onChange }: { line: Line; onChange(key: string): void }) {
  const { busy, problem, ask } = useAsking()
  const tryIt = async () => {
    const tried = await api<Tried[]>(`/api/applications/${key}/try`, { method: 'POST' })
    const down = tried.filter((one) => one.problem !== undefined)
    if (down.length === 0) toast(`${key} answers at ${plural(tried.length, 'address', 'addresses')}`)
    else toast.error(down.map((one) => `${one.address}: ${one.problem}`).join('; '))
  }
  return (
    <span className="whitespace-nowrap">
      <Button
        look="quiet"
        className="!h-6 !px-2"
        aria-label={`Try ${key}`}
        disabled={busy}
        onClick={() => void ask(tryIt)}
      >
        Try
      </Button>
      <Button look="quiet" className="!h-6 !px-2" aria-label={`Change ${key}`} onClick={() => onChange(key)}>
        Change
      </Button>
      <RemoveButton
        label={`Remove ${key}`}
        title={`Remove the application ${key}`}
        onRemove={() => api(`/api/applications/${key}`, { method: 'DELETE' })}
      >
        {uses > 0
          ? `${plural(uses, 'case or routine goes', 'cases and routines go')} to it; those steps will ` +
            'fail, saying so.'
          : 'Nothing goes to it.'}{' '}
        Runs that have started keep its address.
      </RemoveButton>
      {problem && <Problem>{problem}</Problem>}
    </span>
  )
}

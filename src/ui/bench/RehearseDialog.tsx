'use client'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { plural, type RunViewModel, type StartOptions } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { Committed } from './Committed'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

/** What is rehearsed: a suite, or cases by key. `rows` and `parameters` are of a single case. */
export type Rehearsed = {
  title: string
  suite?: string
  cases?: string[]
  rows?: number
  parameters?: Record<string, string>
}

const LIMIT_MS = 120_000

/** Tries it on one environment; leaves nothing in history, and ends in the Reader. */
export function RehearseDialog({ what, onClose }: { what: Rehearsed; onClose(): void }) {
  const { data: options } = useViewModel<StartOptions>('/api/start-options', ['definitions', 'fleet'])
  const [running, setRunning] = useState<number>()
  return (
    <Dialog open onClose={onClose} title={`Rehearse ${what.title}`}>
      {running !== undefined && <OnItsWay run={running} single={what.cases?.length === 1} />}
      {running === undefined && options && <Form what={what} options={options} onStarted={setRunning} />}
      {running === undefined && !options && <div className="h-40 animate-pulse rounded bg-line/40" />}
    </Dialog>
  )
}

function Form({
  what,
  options,
  onStarted,
}: {
  what: Rehearsed
  options: StartOptions
  onStarted(run: number): void
}) {
  const served = options.environments.filter(({ seats }) => seats > 0)
  const [environment, setEnvironment] = useState(
    (served.find(({ simulated }) => !simulated) ?? served[0])?.key ?? '',
  )
  const [build, setBuild] = useState(options.builds[0] ?? '')
  const [row, setRow] = useState('1')
  const [given, setGiven] = useState<Record<string, string>>({})
  const [problem, setProblem] = useState<string>()
  const [busy, setBusy] = useState(false)
  const { suite, cases, rows = 0, parameters = {} } = what
  const start = async () => {
    setBusy(true)
    setProblem(undefined)
    try {
      const body = {
        ...(suite ? { suite } : { cases }),
        environments: [environment],
        build: build.trim(),
        retries: 0,
        limitMs: LIMIT_MS,
        rehearsal: true,
        ...(rows > 0 && row !== '' && { row: Number(row) }),
        ...(Object.keys(given).length > 0 && { with: given }),
      }
      onStarted((await api<{ id: number }>('/api/runs', { method: 'POST', body })).id)
    } catch (fault) {
      setProblem((fault as ApiProblem).message)
      setBusy(false)
    }
  }
  return (
    <form className="flex flex-col gap-3" onSubmit={submitting(() => start())}>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Environment">
          <Select value={environment} onChoose={setEnvironment}>
            {served.map(({ key, title, simulated }) => (
              <option key={key} value={key}>
                {title}
                {simulated ? ' (simulated)' : ''}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Build">
          <TextField
            list="rehearsal-builds"
            value={build}
            onChange={({ target }) => setBuild(target.value)}
          />
          <datalist id="rehearsal-builds">
            {options.builds.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </Field>
        {rows > 0 && (
          <Field label="Row">
            <Select value={row} onChoose={setRow}>
              {Array.from({ length: rows }, (_, i) => (
                <option key={i} value={i + 1}>
                  {i + 1}
                </option>
              ))}
              <option value="">all {rows}</option>
            </Select>
          </Field>
        )}
      </div>
      {Object.keys(parameters).length > 0 && (
        <fieldset className="flex flex-col gap-1">
          <legend className="label">Parameters, for this rehearsal only</legend>
          {Object.entries(parameters).map(([name, value]) => (
            <div key={name} className="grid grid-cols-[120px_1fr] items-center gap-2">
              <span className="font-mono text-xs text-soft">{name}</span>
              <Committed
                label={`Parameter ${name}`}
                value={given[name] ?? value}
                onCommit={(text) => setGiven({ ...given, [name]: text })}
              />
            </div>
          ))}
        </fieldset>
      )}
      <p className="text-sm text-soft">
        A rehearsal leaves nothing in history, trends or estimates, and is deleted after a day unless you keep
        it.
      </p>
      {served.length === 0 && <Problem>No agent is there to carry it out.</Problem>}
      {problem && <Problem>{problem}</Problem>}
      <div>
        <Button look="main" type="submit" disabled={busy || environment === '' || build.trim() === ''}>
          Rehearse
        </Button>
      </div>
    </form>
  )
}

/** Waits for the first attempt, then goes to where it is read. */
function OnItsWay({ run, single }: { run: number; single: boolean }) {
  const router = useRouter()
  const { data } = useViewModel<RunViewModel>(`/api/runs/${run}`, [`run:${run}`])
  const cells = data?.groups.flatMap(({ rows }) => rows.flatMap((row) => row.cells)) ?? []
  const attempt = cells.find((cell) => cell?.attemptId)?.attemptId
  const [left, setLeft] = useState(false)
  if (data && !left && (attempt || !single || cells.length > 1)) {
    setLeft(true)
    queueMicrotask(() =>
      router.push(single && cells.length === 1 && attempt ? `/attempts/${attempt}` : `/runs/${run}`),
    )
  }
  return (
    <p role="status" className="py-6 text-soft">
      {cells.length > 0 ? `${plural(cells.length, 'case run')} waiting for a seat` : 'It is being laid out'}
    </p>
  )
}

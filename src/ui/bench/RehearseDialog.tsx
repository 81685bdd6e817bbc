'use client'
import { useRouter } from '../base/opening'
import { useEffect, useState } from 'react'
import {
  canRehearse,
  cellsOf,
  plural,
  rehearsalRequest,
  servedEnvironments,
  usualRehearsal,
  whereRehearsalIsRead,
  type RehearsalChoice,
  type Rehearsed,
  type RunViewModel,
  type StartOptions,
} from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { Committed } from './Committed'
import { submitting } from '../base/submitting'
import { Select, TextField } from '../base/fields'
import { Field } from '../base/Field'

/** Tries it on one environment; leaves nothing in history, and ends in the Reader. */
export function RehearseDialog({ what, onClose }: { what: Rehearsed; onClose(): void }) {
  const { data: options } = useViewModel<StartOptions>('/api/start-options', ['definitions', 'fleet'])
  const [running, setRunning] = useState<number>()
  return (
    <Dialog open onClose={onClose} title={what.live ? `Live: ${what.title}` : `Rehearse ${what.title}`}>
      {running !== undefined && <OnItsWay run={running} what={what} />}
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
  const [choice, setChoice] = useState(() => usualRehearsal(options, what))
  const { problem, busy, ask } = useAsking()
  const { rows = 0, parameters = {} } = what
  const served = servedEnvironments(options, what.live)
  const set = (change: Partial<RehearsalChoice>) => setChoice((now) => ({ ...now, ...change }))
  const start = async () => {
    const body = rehearsalRequest(what, choice)
    onStarted((await api<{ id: number }>('/api/runs', { method: 'POST', body })).id)
  }
  return (
    <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(start))}>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Environment">
          <Select value={choice.environment} onChoose={(environment) => set({ environment })}>
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
            value={choice.build}
            onChange={({ target }) => set({ build: target.value })}
          />
          <datalist id="rehearsal-builds">
            {options.builds.map((one) => (
              <option key={one} value={one} />
            ))}
          </datalist>
        </Field>
        {rows > 0 && (
          <Field label="Row">
            <Select value={choice.row} onChoose={(row) => set({ row: row === 'all' ? 'all' : Number(row) })}>
              {Array.from({ length: rows }, (_, i) => (
                <option key={i} value={i + 1}>
                  {i + 1}
                </option>
              ))}
              {!what.live && <option value="all">all {rows}</option>}
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
                value={choice.given[name] ?? value}
                onCommit={(text) => set({ given: { ...choice.given, [name]: text } })}
              />
            </div>
          ))}
        </fieldset>
      )}
      {what.live && (
        <p className="text-sm text-soft">
          A browser of this environment opens here, brought to where the case begins. You steer it, try steps
          one by one, and what you do becomes steps. It takes a seat until you end it.
        </p>
      )}
      <p className="text-sm text-soft">
        A rehearsal leaves nothing in history, trends or estimates, and is deleted after a day unless you keep
        it.
      </p>
      {served.length === 0 && (
        <Problem>
          {what.live
            ? 'No agent is there whose browser can be steered.'
            : 'No agent is there to carry it out.'}
        </Problem>
      )}
      {problem && <Problem>{problem}</Problem>}
      <div>
        <Button look="main" type="submit" disabled={busy || !canRehearse(choice)}>
          {what.live ? 'Open the browser' : 'Rehearse'}
        </Button>
      </div>
    </form>
  )
}

/** Waits for the first attempt, then goes to where it is read. */
function OnItsWay({ run, what }: { run: number; what: Rehearsed }) {
  const router = useRouter()
  const { data } = useViewModel<RunViewModel>(`/api/runs/${run}`, [`run:${run}`])
  const count = data ? cellsOf(data.groups).length : 0
  const to = data && whereRehearsalIsRead(data, what)
  useEffect(() => {
    if (to) router.push(to)
  }, [to, router])
  return (
    <p role="status" className="py-6 text-soft">
      {count > 0 ? `${plural(count, 'case run')} waiting for a seat` : 'It is being laid out'}
    </p>
  )
}

'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { Select, TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { addressesIn, DAYS, noAddress } from './mail-words'

const FORMATS = [
  { value: 'pdf', label: 'PDF' },
  { value: 'html', label: 'HTML' },
  { value: 'xlsx', label: 'XLSX' },
] as const
const ABOUT = [
  { value: 'run', label: 'the last run' },
  { value: 'runs', label: 'the last 20 runs' },
] as const
const EVERY = [
  { value: 'run', label: 'after each run' },
  { value: 'day', label: 'each day' },
  { value: 'week', label: 'each week' },
] as const
const RUNS = 20
type Draft = {
  to: string
  format: (typeof FORMATS)[number]['value']
  about: (typeof ABOUT)[number]['value']
  every: (typeof EVERY)[number]['value']
  weekday: number
  time: string
}
const NEW: Draft = { to: '', format: 'pdf', about: 'run', every: 'run', weekday: 1, time: '07:00' }

/** Who is sent which report of a rotation, and when. */
export function MailForm({ path, onDone }: { path: string; onDone(): void }) {
  const [draft, setDraft] = useState(NEW)
  const { problem, setProblem, busy, ask } = useAsking(() => {
    toast('Kept')
    onDone()
  })
  const set = (change: Partial<Draft>) => setDraft((now) => ({ ...now, ...change }))
  const keep = () => {
    const recipients = addressesIn(draft.to)
    const wrong = noAddress(recipients)
    if (recipients.length === 0) return setProblem('Say whom to send it to.')
    if (wrong !== undefined) return setProblem(`“${wrong}” is no mail address.`)
    const { format, about, every, weekday, time } = draft
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
    const at = every === 'run' ? {} : { time, zone, ...(every === 'week' && { weekday }) }
    const body = { recipients, format, about, every, ...(about === 'runs' && { runs: RUNS }), ...at }
    void ask(() => api(path, { method: 'POST', body }))
  }
  return (
    <form aria-label="Send reports" className="mt-3 grid gap-2" onSubmit={submitting(keep)}>
      <Field label="To" hint="Several with a comma between">
        <TextField
          value={draft.to}
          placeholder="wren@fennel-sound.invalid"
          onChange={({ target }) => set({ to: target.value })}
        />
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Field label="As">
          <Select
            value={draft.format}
            choices={FORMATS}
            onChoose={(value) => set({ format: value as Draft['format'] })}
          />
        </Field>
        <Field label="Of">
          <Select
            value={draft.about}
            choices={ABOUT}
            onChoose={(value) => set({ about: value as Draft['about'] })}
          />
        </Field>
        <Field label="When">
          <Select
            value={draft.every}
            choices={EVERY}
            onChoose={(value) => set({ every: value as Draft['every'] })}
          />
        </Field>
        {draft.every !== 'run' && (
          <Field label="At">
            <TextField
              type="time"
              value={draft.time}
              onChange={({ target }) => set({ time: target.value })}
            />
          </Field>
        )}
        {draft.every === 'week' && (
          <Field label="On">
            <Select
              value={String(draft.weekday)}
              choices={DAYS.map((label, i) => ({ value: String(i + 1), label }))}
              onChoose={(value) => set({ weekday: Number(value) })}
            />
          </Field>
        )}
      </div>
      {problem && <Problem>{problem}</Problem>}
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={busy}>
          Keep
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </div>
    </form>
  )
}

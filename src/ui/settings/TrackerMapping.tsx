'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import {
  FIELD_NAMES,
  fieldsOf,
  mappingProblems,
  SEVERITIES,
  type DefectFacts,
  type TrackerMapping as Mapping,
} from '@/core/tracker'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'

const EXAMPLE: DefectFacts = {
  title: 'Fare: total is 12.00, expected 24.00',
  severity: 'high',
  environment: 'Chromium, narrow',
  build: '2026.11.4',
  case: 'fare-of-two',
  person: 'Priya Castellan',
  owner: 'Booking crew',
}

/** Lines of text in which a mapping is written. */
type Draft = Mapping['states'] extends infer S
  ? { [K in keyof S]: string } & {
      severities: Mapping['severities']
      fields: string
      people: string
      attach: boolean
    }
  : never

const draftOf = ({ states, severities, fields, people, attach }: Mapping): Draft => ({
  closed: states.closed.join(', '),
  saidFixed: states.saidFixed.join(', '),
  close: states.close,
  reopen: states.reopen,
  severities,
  fields: fields.map(({ name, value }) => `${name}: ${value}`).join('\n'),
  people: Object.entries(people)
    .map((pair) => pair.join(': '))
    .join('\n'),
  attach,
})
/** Lines of `NAME: VALUE`. */
const pairsIn = (text: string): [string, string][] =>
  text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const [name = '', ...value] = line.split(':')
      return [name.trim(), value.join(':').trim()]
    })
const listIn = (text: string) =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '')

function mappingIn({ closed, saidFixed, close, reopen, severities, fields, people, attach }: Draft): Mapping {
  const written = Object.entries(severities).filter(([, word]) => word.trim() !== '')
  return {
    states: {
      closed: listIn(closed),
      saidFixed: listIn(saidFixed),
      close: close.trim(),
      reopen: reopen.trim(),
    },
    severities: Object.fromEntries(written),
    fields: pairsIn(fields).map(([name, value]) => ({ name, value })),
    people: Object.fromEntries(pairsIn(people)),
    attach,
  }
}

/** How the tracker names things, with what would be sent of an example as it is written. */
export function TrackerMapping({ mapping }: { mapping: Mapping }) {
  const [draft, setDraft] = useState(() => draftOf(mapping))
  const { problem, busy, ask } = useAsking(() =>
    toast('Kept: it holds for what is sent and told from now on'),
  )
  const set = (change: Partial<Draft>) => setDraft((now) => ({ ...now, ...change }))
  const made = mappingIn(draft)
  const wrong = mappingProblems(made)
  const keep = () => ask(() => api('/api/delivery/tracker/mapping', { method: 'PUT', body: made }))
  const [said, setSaid] = useState<string[]>([])
  const trying = useAsking()
  /** An issue is really made there, and closed. */
  const send = () => {
    setSaid([])
    return trying.ask(async () =>
      setSaid(
        (await api<{ said: string[] }>('/api/delivery/tracker/mapping/try', { method: 'POST', body: made }))
          .said,
      ),
    )
  }
  const line = (key: 'closed' | 'saidFixed' | 'close' | 'reopen', label: string, hint: string) => (
    <Field label={label} hint={hint}>
      <TextField value={draft[key]} onChange={({ target }) => set({ [key]: target.value })} />
    </Field>
  )
  return (
    <form
      aria-label="How the tracker names things"
      className="flex flex-col gap-3 rounded-oak border border-line bg-surface p-3"
      onSubmit={submitting(keep)}
    >
      <h3 className="font-semibold">How the tracker names things</h3>
      <div className="grid grid-cols-4 gap-2">
        {line('closed', 'Is closed', 'Its words for that, with commas')}
        {line('saidFixed', 'Is said to be fixed', 'Its words for that, with commas')}
        {line('close', 'To close it, say', 'One word')}
        {line('reopen', 'To open it again, say', 'One word')}
      </div>
      <div className="grid grid-cols-4 gap-2">
        {SEVERITIES.map((severity) => (
          <Field key={severity} label={`Severity ${severity}`}>
            <TextField
              placeholder="not sent"
              value={draft.severities[severity] ?? ''}
              onChange={({ target }) =>
                set({ severities: { ...draft.severities, [severity]: target.value } })
              }
            />
          </Field>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-2">
        <Field
          label="Further fields"
          hint={
            'NAME: VALUE, one a line; a value may have ' +
            `${FIELD_NAMES.map((name) => `\${${name}}`).join(' ')}`
          }
        >
          <textarea
            className="min-h-[92px] w-full rounded-oak border border-line bg-surface px-2.5 py-1.5 font-mono text-xs"
            value={draft.fields}
            onChange={({ target }) => set({ fields: target.value })}
          />
        </Field>
        <Field label="What is sent of an example">
          <output className="block min-h-[92px] rounded-oak bg-ground px-2.5 py-1.5 font-mono text-xs whitespace-pre-wrap">
            {JSON.stringify({ title: EXAMPLE.title, body: '…', ...fieldsOf(EXAMPLE, made) }, null, 1)}
          </output>
        </Field>
      </div>
      <div className="grid grid-cols-2 gap-2">
        <Field label="People and crews" hint="NAME HERE: NAME THERE, one a line; others are called as here">
          <textarea
            className="min-h-[58px] w-full rounded-oak border border-line bg-surface px-2.5 py-1.5 font-mono text-xs"
            value={draft.people}
            onChange={({ target }) => set({ people: target.value })}
          />
        </Field>
        <label className="flex items-start gap-2 pt-5 text-sm">
          <input
            type="checkbox"
            className="mt-1 accent-(--act)"
            checked={draft.attach}
            onChange={({ target }) => set({ attach: target.checked })}
          />
          <span>
            Send the evidence itself
            <span className="block text-xs text-soft">
              Screens, videos and sources up to 20 MB each; without, it is told where they are.
            </span>
          </span>
        </label>
      </div>
      {said.length > 0 && (
        <ul aria-label="What the tracker made of it" aria-live="polite" className="text-sm">
          {said.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      {wrong.length > 0 && <Problem>{wrong.join(' ')}</Problem>}
      {(problem ?? trying.problem) && <Problem>{problem ?? trying.problem}</Problem>}
      <div className="flex justify-end gap-2">
        <Button disabled={busy || trying.busy || wrong.length > 0} onClick={() => void send()}>
          {trying.busy ? 'Sending…' : 'Send an example'}
        </Button>
        <Button look="main" type="submit" disabled={busy || wrong.length > 0}>
          Keep so
        </Button>
      </div>
    </form>
  )
}

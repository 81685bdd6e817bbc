'use client'
import { useState } from 'react'
import type { TriageGroup } from '@/core/view-models'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Select, TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { Ago } from '../base/Time'
import { useKeys } from '../frame/keys'

const NOBODY = { value: '', label: 'nobody' }

/** Who is to decide a cause, with a word for them. */
export function GiveTo({
  group: { with: holder },
  people,
  disabled,
  onGive,
}: {
  group: TriageGroup
  people: readonly string[]
  disabled: boolean
  onGive(person: string, note: string): void
}) {
  const [asking, setAsking] = useState(false)
  const [person, setPerson] = useState(holder?.person ?? people[0] ?? '')
  const [note, setNote] = useState('')
  useKeys([{ key: 'g', what: 'give it to somebody', off: disabled, run: () => setAsking(true) }])
  const choices = [...people.map((name) => ({ value: name, label: name })), ...(holder ? [NOBODY] : [])]
  return (
    <section aria-label="Who decides it" className="mt-3 border-t border-line pt-2 text-sm">
      {holder && (
        <p>
          With <b className="font-semibold">{holder.person}</b>
          {holder.note !== '' && `: “${holder.note}”`}{' '}
          <span className="text-soft">
            by {holder.by}, <Ago at={holder.at} />
          </span>
        </p>
      )}
      {asking ? (
        <form
          className="mt-1 flex flex-col gap-2"
          onSubmit={submitting(() => {
            setAsking(false)
            setNote('')
            onGive(person, note)
          })}
        >
          <Field label="Who decides it">
            <Select value={person} choices={choices} onChange={({ target }) => setPerson(target.value)} />
          </Field>
          <Field label="A word for them">
            <TextField value={note} maxLength={1000} onChange={({ target }) => setNote(target.value)} />
          </Field>
          <div className="flex gap-2">
            <Button type="submit" look="main" disabled={disabled}>
              Give it
            </Button>
            <Button look="quiet" onClick={() => setAsking(false)}>
              Keep it
            </Button>
          </div>
        </form>
      ) : (
        <Button className="mt-1" keyHint="g" disabled={disabled} onClick={() => setAsking(true)}>
          {holder ? 'Give it to somebody else…' : 'Give it to somebody…'}
        </Button>
      )}
    </section>
  )
}

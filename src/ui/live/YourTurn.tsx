'use client'
import { useState } from 'react'
import type { PersonsVerdict } from '@/core/live'
import { Field } from '../base/Field'
import { TextArea } from '../base/fields'
import { Verdicts } from '../guided/Verdicts'
import type { SessionState } from './session-state'
import type { Order } from './useLiveLine'

type Props = { asked: NonNullable<SessionState['judge']>; disabled: boolean; say(order: Order): void }

/** A step that is for a person: what to do, what to expect, and what they say of it. */
export function YourTurn({ asked: { words, expected }, disabled, say }: Props) {
  const [note, setNote] = useState('')
  const tell = (is: PersonsVerdict) => {
    say({ do: 'verdict', is, note })
    setNote('')
  }
  return (
    <section aria-label="Your turn" className="border-b border-line bg-act-wash px-[14px] py-3 text-sm">
      <p role="status" className="font-semibold whitespace-pre-wrap">
        {words}
      </p>
      {expected !== undefined && (
        <p className="mt-1 whitespace-pre-wrap">
          <span className="text-soft">Expect </span>
          {expected}
        </p>
      )}
      <Field label="Note" className="mt-2">
        <TextArea
          rows={2}
          value={note}
          maxLength={2000}
          disabled={disabled}
          onChange={({ target }) => setNote(target.value)}
        />
      </Field>
      <Verdicts disabled={disabled} onSay={tell} />
    </section>
  )
}

'use client'
import { useState } from 'react'
import type { PersonsVerdict } from '@/core/live'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { TextArea } from '../base/fields'
import { useKeys } from '../frame/keys'
import type { SessionState } from './session-state'
import type { Order } from './useLiveLine'

const VERDICTS: [is: PersonsVerdict, label: string, key: string, what: string][] = [
  ['passed', 'It is so', 'y', 'what is expected is there'],
  ['failed', 'It is not so', 'n', 'what is expected is not there'],
  ['cannot', 'Cannot do it', 'c', 'the step cannot be done'],
  ['skipped', 'Pass over', 'o', 'go on without it'],
]

type Props = { asked: NonNullable<SessionState['judge']>; disabled: boolean; say(order: Order): void }

/** A step that is for a person: what to do, what to expect, and what they say of it. */
export function YourTurn({ asked: { words, expected }, disabled, say }: Props) {
  const [note, setNote] = useState('')
  const tell = (is: PersonsVerdict) => {
    say({ do: 'verdict', is, note })
    setNote('')
  }
  useKeys(VERDICTS.map(([is, , key, what]) => ({ key, what, off: disabled, run: () => tell(is) })))
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
      <div className="mt-2 flex flex-wrap gap-2">
        {VERDICTS.map(([is, label, key]) => (
          <Button
            key={is}
            look={is === 'passed' ? 'main' : 'plain'}
            keyHint={key}
            disabled={disabled}
            onClick={() => tell(is)}
          >
            {label}
          </Button>
        ))}
      </div>
    </section>
  )
}

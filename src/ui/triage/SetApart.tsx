'use client'
import { useState } from 'react'
import { partsOf, type SplitBy } from '@/core/triage'
import { plural, type TriageGroup } from '@/core/view-models'
import { Button, Key } from '../base/Button'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { submitting } from '../base/submitting'
import { useKeys } from '../frame/keys'

/** By one key each. */
const LISTED = 9
const WORDS_LEAST = 3
const BY_WORDS = { case: 'case', environment: 'on', agent: 'agent' } as const

/** What a part of a cause is told by, of what some of its failures have. */
export type ChosenPart = { by: SplitBy; value: string; label: string }

export function SetApart({
  group,
  disabled,
  onChoose,
  onClose,
}: {
  group: TriageGroup
  disabled: boolean
  onChoose(part: ChosenPart): void
  onClose(): void
}) {
  const [words, setWords] = useState('')
  const [isShort, setShort] = useState(false)
  const parts = partsOf(group.members).slice(0, LISTED)
  const choose = ({ by, value, label }: ChosenPart) => onChoose({ by, value, label })
  useKeys([
    ...parts.map((part, i) => ({
      key: String(i + 1),
      what: `set apart: ${part.label}`,
      off: disabled,
      run: () => choose(part),
    })),
    { key: 'Escape', what: 'all of it is one cause after all', run: onClose },
  ])
  const byWords = submitting(() => {
    const value = words.trim()
    setShort(value.length < WORDS_LEAST)
    if (value.length >= WORDS_LEAST) choose({ by: 'words', value, label: value })
  })
  return (
    <section aria-label="A part of it" className="flex flex-col gap-1">
      <p className="text-sm text-soft">
        Failures of that part are a cause of their own from now on, here and in runs to come, until it is put
        back.
      </p>
      {parts.length === 0 && (
        <p className="text-sm">
          Its failures are of one case, environment and agent: only words can tell a part.
        </p>
      )}
      <ul className="flex max-h-[380px] flex-col gap-1 overflow-auto">
        {parts.map((part, i) => (
          <li key={`${part.by} ${part.value}`}>
            <Button
              disabled={disabled}
              onClick={() => choose(part)}
              className="!h-auto w-full !px-2 !py-1 text-left !whitespace-normal"
            >
              <Key>{String(i + 1)}</Key>
              <span className="min-w-0 flex-1">
                <span className="font-normal text-soft">{BY_WORDS[part.by]}</span> {part.label}
              </span>
              <span className="text-xs text-soft tabular-nums">
                {part.count} of {group.members.length}
              </span>
            </Button>
          </li>
        ))}
      </ul>
      {group.members.length < group.runs[0]!.failures && (
        <p className="text-xs text-soft">
          Counted among {plural(group.members.length, 'failure')} of the newest run.
        </p>
      )}
      <form className="mt-1 flex items-end gap-2" onSubmit={byWords}>
        <Field
          label="Those that say"
          error={isShort ? `At least ${WORDS_LEAST} characters of what they say.` : undefined}
        >
          <TextField value={words} maxLength={200} onChange={({ target }) => setWords(target.value)} />
        </Field>
        <Button type="submit" disabled={disabled}>
          Set apart
        </Button>
      </form>
      <div className="pt-1">
        <Button look="quiet" onClick={onClose}>
          Back
        </Button>
      </div>
    </section>
  )
}

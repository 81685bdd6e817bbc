'use client'
import { useState } from 'react'
import { plural, type DefectViewModel, type TrackerMessageViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Select } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'

/** Something to say that is not said yet. */
export type Proposed = { text: string; state: 'open' | 'closed' | null }
const STATE_WORDS = { open: 'opens it again', closed: 'closes it' } as const

/** What was said of a defect at the tracker, and saying more.
 * @param proposed stands in the field at first */
export function AtTracker({
  defect,
  proposed = { text: '', state: null },
  onSaid,
}: {
  defect: DefectViewModel
  proposed?: Proposed | undefined
  onSaid(): void
}) {
  const { may } = useFrame()
  const path = `/api/defects/${defect.id}/messages`
  const { data = [] } = useViewModel<TrackerMessageViewModel[]>(path, ['defects'])
  const [text, setText] = useState(proposed.text)
  const [state, setState] = useState<'' | 'open' | 'closed'>(proposed.state ?? '')
  const { problem, busy, ask } = useAsking(() => {
    setText('')
    setState('')
    onSaid()
  })
  const say = () =>
    ask(() => api(path, { method: 'POST', body: { text: text.trim(), ...(state !== '' && { state }) } }))
  return (
    <section aria-label="At the tracker" className="mt-4">
      <h3 className="label">At the tracker</h3>
      <ul className="mt-1 flex flex-col gap-2 text-sm">
        {data.map((message) => (
          <li key={message.id}>
            <p className="whitespace-pre-wrap">{message.text}</p>
            <p className="text-xs text-soft">
              {message.by} <Ago at={message.at} />
              {message.state && `, ${STATE_WORDS[message.state]}`}: {sentWords(message)}
            </p>
          </li>
        ))}
      </ul>
      {may('tester') && (
        <form className="mt-2 flex flex-col gap-2" onSubmit={submitting(say)}>
          <Field label="Say there">
            <textarea
              className="min-h-[58px] w-full rounded-oak border border-line bg-surface px-2.5 py-1.5 text-sm"
              maxLength={10_000}
              // what is proposed is read before it is said
              autoFocus={proposed.text !== ''}
              value={text}
              onChange={({ target }) => setText(target.value)}
            />
          </Field>
          {problem && <Problem>{problem}</Problem>}
          <div className="flex items-center justify-end gap-2">
            <Select
              aria-label="And it is then"
              width="w-60"
              value={state}
              onChange={({ target }) => setState(target.value as typeof state)}
            >
              <option value="">and leave it as it stands</option>
              <option value="closed">and close it</option>
              <option value="open">and open it again</option>
            </Select>
            <Button type="submit" disabled={busy || text.trim() === ''}>
              Say it
            </Button>
          </div>
        </form>
      )}
    </section>
  )
}

function sentWords({ sentAt, problem, tries }: TrackerMessageViewModel): string {
  if (sentAt !== null) return 'said there'
  if (problem === null) return 'on its way'
  return `waits, and is sent by itself (${problem} ${plural(tries, 'try', 'tries')} so far)`
}

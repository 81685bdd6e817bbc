'use client'
import { useState } from 'react'
import { plural, type DefectViewModel, type TrackerMessageViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Select, TextField } from '../base/fields'
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
  const [assignee, setAssignee] = useState('')
  const { problem, busy, ask } = useAsking(() => {
    setText('')
    setState('')
    setAssignee('')
    onSaid()
  })
  const settling = useAsking()
  const say = () => {
    const given = assignee.trim() !== '' && { assignee: assignee.trim() }
    return ask(() =>
      api(path, { method: 'POST', body: { text: text.trim(), ...(state !== '' && { state }), ...given } }),
    )
  }
  return (
    <section aria-label="At the tracker" className="mt-4">
      <h3 className="label">At the tracker</h3>
      <ul className="mt-1 flex flex-col gap-2 text-sm">
        {data.map((message) => (
          <li key={message.id}>
            <p className="whitespace-pre-wrap">{message.text}</p>
            <p className="text-xs text-soft">
              {message.by} <Ago at={message.at} />
              {message.state && `, ${STATE_WORDS[message.state]}`}
              {message.assignee && `, gives it to ${message.assignee}`}: {sentWords(message)}
            </p>
            {message.sentAt === null && may('tester') && (
              <Waiting message={message} path={path} disabled={settling.busy} onSettle={settling.ask} />
            )}
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
          {(problem ?? settling.problem) && <Problem>{problem ?? settling.problem}</Problem>}
          <div className="flex items-center justify-end gap-2">
            <TextField
              aria-label="Give it to"
              placeholder="give it to…"
              width="w-40"
              maxLength={100}
              value={assignee}
              onChange={({ target }) => setAssignee(target.value)}
            />
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

/** What may be done with a message that waits; where the tracker has another state than its sender saw, both
 * stand side by side. */
function Waiting({
  message: { id, state, conflict },
  path,
  disabled,
  onSettle,
}: {
  message: TrackerMessageViewModel
  path: string
  disabled: boolean
  onSettle(work: () => Promise<unknown>): Promise<void>
}) {
  const settle = (method: 'POST' | 'DELETE') => void onSettle(() => api(`${path}/${id}`, { method }))
  return (
    <>
      {conflict && (
        <dl className="mt-1 grid grid-cols-2 rounded-oak border border-line text-sm">
          <div className="border-r border-line px-2.5 py-1">
            <dt className="label">Here</dt>
            <dd>
              {state && STATE_WORDS[state]}, which stood there as{' '}
              <b className="font-semibold">{conflict.seen}</b>
            </dd>
          </div>
          <div className="px-2.5 py-1">
            <dt className="label">At the tracker</dt>
            <dd>
              it is <b className="font-semibold">{conflict.now}</b> by now
            </dd>
          </div>
        </dl>
      )}
      <span className="mt-1 flex gap-2">
        {conflict && (
          <Button disabled={disabled} onClick={() => settle('POST')}>
            Say it all the same
          </Button>
        )}
        <Button look="quiet" disabled={disabled} onClick={() => settle('DELETE')}>
          Withdraw it
        </Button>
      </span>
    </>
  )
}

function sentWords({ sentAt, problem, tries, conflict }: TrackerMessageViewModel): string {
  if (conflict !== null) return 'waits for somebody to decide'
  if (sentAt !== null) return 'said there'
  if (problem === null) return 'on its way'
  return `waits, and is sent by itself (${problem} ${plural(tries, 'try', 'tries')} so far)`
}

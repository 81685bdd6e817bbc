'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type DefectViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { Select, TextArea } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { SEVERITIES } from './DefectFilters'

type Answer = { done: number[]; left: { id: number; title: string; why: string }[] }
type Severity = DefectViewModel['severity']
const CHOICES = [{ value: '', label: 'severity…' }, ...SEVERITIES.map((value) => ({ value, label: value }))]

/** What is done with all defects that are marked. What was not done is said, each with why. */
export function Bulk({ marked, onClear }: { marked: readonly DefectViewModel[]; onClear(): void }) {
  const [left, setLeft] = useState<Answer['left']>([])
  const [saying, setSaying] = useState(false)
  const { problem, busy, ask } = useAsking()
  const ids = marked.map(({ id }) => id)
  const tell = (words: string, answer: Answer, onUndo?: () => void) => {
    setLeft(answer.left)
    if (answer.done.length > 0)
      toast(`${plural(answer.done.length, 'defect')}: ${words}`, {
        ...(onUndo && { duration: 12_000, action: { label: 'Undo', onClick: onUndo } }),
      })
  }
  const setSeverities = (edits: { id: number; version: number; severity: Severity }[]) =>
    api<Answer>('/api/defects', { method: 'PATCH', body: { edits } })
  const changeTo = (severity: Severity) =>
    ask(async () => {
      const answer = await setSeverities(marked.map(({ id, version }) => ({ id, version, severity })))
      const before = marked.filter(({ id }) => answer.done.includes(id))
      const undo = () =>
        void ask(() =>
          setSeverities(
            before.map((one) => ({ id: one.id, version: one.version + 1, severity: one.severity })),
          ),
        )
      tell(severity, answer, undo)
    })
  const send = () =>
    ask(async () =>
      tell('on the way', await api<Answer>('/api/defects/send', { method: 'POST', body: { ids } })),
    )
  const say = (text: string, state: string) =>
    ask(async () => {
      const body = { ids, text, ...(state !== '' && { state }) }
      tell(
        'it will be said at the tracker',
        await api<Answer>('/api/defects/messages', { method: 'POST', body }),
      )
      setSaying(false)
    })
  return (
    <section
      aria-label="All that are marked"
      className="sticky top-0 z-10 border-b border-line bg-act-wash px-[18px] py-1.5 text-sm"
    >
      <div className="flex items-center gap-2">
        <b className="mr-auto font-semibold whitespace-nowrap">{marked.length} marked</b>
        <Select
          size="small"
          width="w-[104px]"
          aria-label="Severity of all that are marked"
          value=""
          choices={CHOICES}
          disabled={busy}
          onChange={({ target }) => void changeTo(target.value as Severity)}
        />
        <Button disabled={busy} onClick={() => void send()}>
          Send
        </Button>
        <Button disabled={busy} onClick={() => setSaying(true)}>
          Say…
        </Button>
        <Button look="quiet" onClick={onClear}>
          Unmark
        </Button>
      </div>
      {problem && <Problem>{problem}</Problem>}
      {left.length > 0 && (
        <ul aria-label="Not done" className="mt-1 text-xs">
          {left.map(({ id, title, why }) => (
            <li key={id}>
              {title}: <span className="text-soft">{why}</span>
            </li>
          ))}
        </ul>
      )}
      {saying && (
        <SayToAll
          count={marked.length}
          busy={busy}
          problem={problem}
          onSay={say}
          onClose={() => setSaying(false)}
        />
      )}
    </section>
  )
}

const STATES = [
  { value: '', label: 'nothing else' },
  { value: 'closed', label: 'closes them' },
  { value: 'open', label: 'opens them again' },
]

function SayToAll({
  count,
  busy,
  problem,
  onSay,
  onClose,
}: {
  count: number
  busy: boolean
  problem: string | undefined
  onSay(text: string, state: string): void
  onClose(): void
}) {
  const [text, setText] = useState('')
  const [state, setState] = useState('')
  return (
    <Dialog open onClose={onClose} title={`Say at the tracker, of ${plural(count, 'defect')}`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={submitting(() => {
          if (text.trim() !== '') onSay(text.trim(), state)
        })}
      >
        <Field label="What is said of each">
          <TextArea
            rows={4}
            maxLength={10_000}
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </Field>
        <Field label="And it">
          <Select value={state} choices={STATES} onChange={({ target }) => setState(target.value)} />
        </Field>
        {problem && <Problem>{problem}</Problem>}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Back</Button>
          <Button type="submit" look="main" disabled={busy || text.trim() === ''}>
            Say it
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import type { ReportMailLine } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Select } from '../base/fields'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { Downloads, reportDownloads } from '../run/Downloads'
import { MailForm } from './MailForm'
import { dayName } from './mail-words'

const OVER = ['5', '10', '20', '40', '60'] as const

/** What a rotation was over its last runs, as a file now or by mail again and again. */
export function Reports({ rotation }: { rotation: string }) {
  const [runs, setRuns] = useState<(typeof OVER)[number]>('20')
  const path = `/api/rotations/${encodeURIComponent(rotation)}`
  return (
    <div className="grid gap-5 p-4">
      <section aria-label="Report over its last runs">
        <h3 className="mb-2 font-semibold">Over its last runs</h3>
        <Field label="How many runs" className="mb-3 w-40">
          <Select
            value={runs}
            onChoose={(value) => setRuns(value as typeof runs)}
            choices={OVER.map((n) => ({ value: n, label: n }))}
          />
        </Field>
        <Downloads
          narrow
          files={reportDownloads(`${path}/report`).map(({ href, name }) => ({
            href: `${href}&runs=${runs}`,
            name,
            words: WORDS[name] ?? '',
          }))}
        />
      </section>
      <Mails path={`${path}/mails`} />
    </div>
  )
}

const WORDS: Record<string, string> = {
  HTML: 'Each run, and the mark of each case that failed or changed.',
  PDF: 'The same, on pages.',
  XLSX: 'A row a case, a column a run.',
  CSV: 'The same, for a spreadsheet.',
  'JUnit XML': 'A suite a run.',
  JSON: 'For programs of your own.',
}

function Mails({ path }: { path: string }) {
  const { may } = useFrame()
  const [adding, setAdding] = useState(false)
  const { data: mails, error } = useViewModel<ReportMailLine[]>(path, ['rota'])
  return (
    <section aria-label="Reports by mail">
      <h3 className="mb-2 font-semibold">By mail</h3>
      {error && <Problem>{error.message}</Problem>}
      {mails?.length === 0 && <p className="mb-2 text-sm text-soft">Nobody is sent a report yet.</p>}
      <ul className="grid gap-3">
        {mails?.map((mail) => (
          <MailLine key={mail.id} mail={mail} path={path} />
        ))}
      </ul>
      {may('coordinator') && !adding && (
        <Button className="mt-3" onClick={() => setAdding(true)}>
          Send reports to somebody
        </Button>
      )}
      {adding && <MailForm path={path} onDone={() => setAdding(false)} />}
    </section>
  )
}

const FORMATS = { html: 'HTML', pdf: 'PDF', xlsx: 'XLSX' } as const

function whenOf({ every, weekday, time, zone }: ReportMailLine): string {
  if (every === 'run') return 'after each run'
  return `${every === 'day' ? 'each day' : `each ${dayName(weekday ?? 1)}`} at ${time} (${zone})`
}

function MailLine({ mail, path }: { mail: ReportMailLine; path: string }) {
  const { may } = useFrame()
  const { problem, busy, ask } = useAsking(() => toast('The mail server took it'))
  const what = mail.about === 'run' ? 'the last run' : `the last ${mail.runs} runs`
  const to = mail.recipients.join(', ')
  return (
    <li className="border-t border-line pt-2 text-sm">
      <p className="break-words">{to}</p>
      <p className="text-soft">
        {FORMATS[mail.format]} of {what}, {whenOf(mail)}
      </p>
      <p className="text-soft">
        {mail.lastAt ? (
          <>
            {mail.lastProblem ? 'tried' : 'sent'} <Ago at={mail.lastAt} />
          </>
        ) : (
          'not sent yet'
        )}
      </p>
      {mail.lastProblem && <p className="text-failed-text">{mail.lastProblem}</p>}
      {may('coordinator') && (
        <div className="mt-1 flex gap-1">
          <Button
            look="quiet"
            className="!h-6 !px-2"
            disabled={busy}
            onClick={() => void ask(() => api(`${path}/${mail.id}`, { method: 'POST' }))}
          >
            Send now
          </Button>
          <RemoveButton
            label={`Stop sending to ${to}`}
            word="Stop"
            title="Send no more reports?"
            onRemove={() => api(`${path}/${mail.id}`, { method: 'DELETE' })}
          >
            {to} is sent no {FORMATS[mail.format]} of {what} any more.
          </RemoveButton>
        </div>
      )}
      {problem && <Problem>{problem}</Problem>}
    </li>
  )
}

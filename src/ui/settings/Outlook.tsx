'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type RetentionOutlook } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Field } from '../base/Field'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'
import { useFrame } from '../frame/tools'

const PATH = '/api/retention'
const WEEK_MS = 7 * 86_400_000
const UNITS = [
  ['GB', 1e9],
  ['MB', 1e6],
  ['KB', 1e3],
] as const
const sizeOf = (bytes: number): string => {
  const [unit, one] = UNITS.find(([, least]) => bytes >= least) ?? UNITS[2]
  const many = bytes / one
  return `${many >= 100 || unit === 'KB' ? Math.ceil(many).toLocaleString('en') : many.toFixed(1)} ${unit}`
}
const WORDS: Record<string, string> = { screens: 'screens and page sources', video: 'video' }

/** What is kept, what of it goes when and what that frees, and how much there may be. */
export function Outlook() {
  const { data, error } = useViewModel<RetentionOutlook>(PATH, ['settings'])
  if (error) return <Problem>{error.message}</Problem>
  if (!data) return <p className="text-sm text-soft">Counting what is kept.</p>
  return (
    <div className="mt-6 max-w-[560px]">
      <h3 className="mb-1 font-semibold">What goes when</h3>
      <p className="mb-2 text-sm">
        {plural(data.pieces, 'piece')}, {sizeOf(data.bytes)}
        {data.kinds.length > 0 &&
          `: ${data.kinds.map(({ kind, bytes }) => `${WORDS[kind] ?? kind} ${sizeOf(bytes)}`).join(', ')}`}
        . A piece goes when the last attempt that shows it loses it.
      </p>
      <Weeks outlook={data} />
      <Quota key={data.quotaGb} outlook={data} />
    </div>
  )
}

function Weeks({ outlook: { weeks, later, never } }: { outlook: RetentionOutlook }) {
  const [now] = useState(() => Date.now())
  const lines = [
    ...weeks.map((sum, week) => ({ when: `${dayOf(now, week)} to ${dayOf(now, week + 1)}`, ...sum })),
    { when: 'later', ...later },
    { when: 'never: pinned, of a defect, accepted, or kept for ever', ...never },
  ].filter(({ pieces }) => pieces > 0)
  const most = Math.max(1, ...lines.map(({ bytes }) => bytes))
  if (lines.length === 0) return <p className="text-sm text-soft">Nothing is kept yet.</p>
  return (
    <table className="w-full text-sm">
      <thead className="sr-only">
        <tr>
          <th scope="col">When</th>
          <th scope="col">Pieces</th>
          <th scope="col">Frees</th>
        </tr>
      </thead>
      <tbody className="divide-y divide-line border-y border-line">
        {lines.map(({ when, pieces, bytes }) => (
          <tr key={when}>
            <th scope="row" className="w-1/2 py-1.5 pr-3 text-left font-normal first-letter:uppercase">
              {when}
            </th>
            <td className="w-24 py-1.5 pr-3 text-right text-soft tabular-nums">{plural(pieces, 'piece')}</td>
            <td className="py-1.5">
              <span className="flex items-center gap-2">
                <span aria-hidden className="h-2 flex-1">
                  <span
                    className="block h-2 rounded-sm bg-act"
                    style={{ width: `${Math.max(1, (bytes / most) * 100)}%` }}
                  />
                </span>
                <span className="w-20 text-right tabular-nums">{sizeOf(bytes)}</span>
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const dayOf = (now: number, week: number) =>
  new Date(now + week * WEEK_MS).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })

function Quota({ outlook: { quotaGb, bytes } }: { outlook: RetentionOutlook }) {
  const { may } = useFrame()
  const [written, setWritten] = useState(quotaGb === null ? '' : String(quotaGb))
  const { problem, setProblem, busy, ask } = useAsking(() => toast('Kept'))
  const keep = () => {
    const text = written.trim()
    const gigabytes = text === '' ? null : Number(text)
    if (gigabytes !== null && !(gigabytes > 0 && gigabytes <= 1_000_000))
      return setProblem(
        `“${text}” is no number of gigabytes. Leave it empty for as much as there is room for.`,
      )
    void ask(() => api(`${PATH}/quota`, { method: 'PUT', body: { gigabytes } }))
  }
  return (
    <form aria-label="How much evidence there may be" className="mt-5" onSubmit={submitting(keep)}>
      <div className="flex items-start gap-3">
        <Field
          label="At most, in GB"
          hint="Now says so at 80 %. At 100 % agents keep what they record until there is room again."
        >
          <TextField
            inputMode="decimal"
            disabled={!may('admin')}
            width="w-40"
            placeholder="as there is room"
            value={written}
            onChange={({ target }) => setWritten(target.value)}
          />
        </Field>
        {may('admin') && (
          <Button
            type="submit"
            className="mt-[18px]"
            disabled={busy || written.trim() === (quotaGb === null ? '' : String(quotaGb))}
          >
            Keep so
          </Button>
        )}
      </div>
      {quotaGb !== null && (
        <p className="mt-2 text-sm">
          {Math.round((bytes / (quotaGb * 1e9)) * 100)} % of {quotaGb} GB are used.
        </p>
      )}
      {problem && (
        <div className="mt-2">
          <Problem>{problem}</Problem>
        </div>
      )}
    </form>
  )
}

'use client'
import Link from '../base/Link'
import { useState } from 'react'
import { toast } from 'sonner'
import type { PolicyLine, RecoveryViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'
import { benchPath } from '../bench/path'
import { useFrame } from '../frame/tools'
import { submitting } from '../base/submitting'
import { DateField } from '../base/DateField'
import { Select, TextField, titled } from '../base/fields'

const DAY_MS = 86_400_000

/** What names this policy, whether it counts for everything, and which cases are in quarantine meanwhile. */
export function Attached({ line, viewModel }: { line: PolicyLine; viewModel: RecoveryViewModel }) {
  const { may } = useFrame()
  // Shown at once; the server's word follows, or takes it back.
  const [asked, setAsked] = useState<boolean>()
  const setWorkspace = (policy: string | null) => {
    setAsked(policy !== null)
    return api('/api/recovery', { method: 'PUT', body: { policy } }).then(
      () =>
        toast(
          policy
            ? `“${line.title}” counts for every run that begins from now on`
            : 'It counts where it is named',
        ),
      (error: ApiProblem) => {
        setAsked(undefined)
        toast.error(error.message)
      },
    )
  }
  return (
    <div className="p-4 text-sm">
      <h3 className="label mb-1">Named by</h3>
      {line.attached.length === 0 ? (
        <p className="text-soft">
          Nothing yet. A case, a suite or a rotation names it with{' '}
          <code className="font-mono text-xs">policy: {line.key}</code>; rotations under <i>If it fails</i>.
        </p>
      ) : (
        <ul className="divide-y divide-line border-b border-line">
          {line.attached.map(({ kind, key, title }) => (
            <li key={kind + key} className="flex gap-2 py-1.5">
              <Link href={benchPath(kind, key)} className="min-w-0 flex-1 truncate hover:underline">
                {title}
              </Link>
              <span className="text-soft">{kind}</span>
            </li>
          ))}
        </ul>
      )}
      <label className="mt-3 flex items-center gap-2">
        <input
          type="checkbox"
          checked={asked ?? line.workspace}
          disabled={!may('coordinator')}
          onChange={({ target }) => void setWorkspace(target.checked ? line.key : null)}
        />
        It counts for everything, after what is nearer
      </label>
      <p className="mt-1 text-xs text-soft">
        The nearest comes first: the case’s, its suites’ from the inside out, the rotation’s, this one.
      </p>
      <h3 className="label mt-5 mb-1">In quarantine</h3>
      <p className="text-xs text-soft">
        These cases are run and seen; their failures fail no run as long as it lasts.
      </p>
      <Quarantined viewModel={viewModel} />
    </div>
  )
}

function Quarantined({ viewModel: { quarantined, cases } }: { viewModel: RecoveryViewModel }) {
  const { may } = useFrame()
  const [caseKey, setCaseKey] = useState('')
  const [because, setBecause] = useState('')
  const [until, setUntil] = useState(() => new Date(Date.now() + 7 * DAY_MS).toISOString().slice(0, 10))
  const { problem, busy, ask } = useAsking(() => {
    setCaseKey('')
    setBecause('')
  })
  const end = (key: string, title: string) =>
    api(`/api/quarantines/${key}`, { method: 'DELETE' }).then(
      () => toast(`${title} counts again from the next run on`),
      (error: ApiProblem) => toast.error(error.message),
    )
  return (
    <>
      <ul className="mt-1 divide-y divide-line">
        {quarantined.map((one) => (
          <li key={one.caseKey} className="py-1.5">
            <div className="flex gap-2">
              <Link href={benchPath('case', one.caseKey)} className="min-w-0 flex-1 truncate hover:underline">
                {one.title}
              </Link>
              {may('coordinator') && (
                <button
                  type="button"
                  aria-label={`End the quarantine of ${one.title}`}
                  onClick={() => void end(one.caseKey, one.title)}
                  className="text-xs text-act underline"
                >
                  End
                </button>
              )}
            </div>
            <div className="text-xs text-soft">
              {one.over ? 'it was over on' : 'until'} {one.until.slice(0, 10)}, by {one.setBy}: {one.because}
            </div>
          </li>
        ))}
      </ul>
      {may('coordinator') && (
        <form
          aria-label="Put a case into quarantine"
          className="mt-2 flex flex-col gap-1.5"
          onSubmit={submitting(() =>
            ask(() =>
              api(`/api/quarantines/${caseKey}`, { method: 'PUT', body: { until, because: because.trim() } }),
            ),
          )}
        >
          <Select aria-label="Case" value={caseKey} onChoose={setCaseKey} choices={titled(cases)}>
            <option value="">a case…</option>
          </Select>
          <TextField
            aria-label="Why"
            value={because}
            placeholder="why: the gate is being rebuilt"
            onChange={({ target }) => setBecause(target.value)}
          />
          <div className="flex gap-1.5">
            <DateField aria-label="Until" value={until} onChange={setUntil} />
            <Button type="submit" disabled={busy || caseKey === '' || because.trim().length < 3}>
              Quarantine
            </Button>
          </div>
          {problem && <Problem>{problem}</Problem>}
        </form>
      )}
    </>
  )
}

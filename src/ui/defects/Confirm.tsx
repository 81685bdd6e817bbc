'use client'
import Link from '../base/Link'
import { useState } from 'react'
import { toast } from 'sonner'
import { confirmationWords, type ConfirmVerdict } from '@/core/triage'
import { plural, type ConfirmationsViewModel, type DefectViewModel } from '@/core/view-models'
import { api, useViewModel } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Field } from '../base/Field'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import type { Proposed } from './AtTracker'

const VERDICT_WORDS: Record<ConfirmVerdict, string> = {
  close: 'Mended: close it',
  reopen: 'Still there: open it again',
  'going-on': 'Going on',
  unclear: 'Unclear: some of it said nothing',
}

/** Runs that tell whether a defect is mended, and another one. */
export function Confirm({
  defect,
  onTell,
}: {
  defect: DefectViewModel
  /** Of one that the tracker has: what it says is to be said there. */
  onTell?: ((said: Proposed) => void) | undefined
}) {
  const { may } = useFrame()
  const { data } = useViewModel<ConfirmationsViewModel>(`/api/defects/${defect.id}/confirmations`, [
    'defects',
    'run',
  ])
  const [asking, setAsking] = useState(false)
  return (
    <section aria-label="Is it mended?" className="mt-4">
      <div className="flex items-center gap-3">
        <h3 className="label">Is it mended?</h3>
        {may('tester') && (
          <Button className="!h-7 !px-2" disabled={!data} onClick={() => setAsking(true)}>
            Confirm a fix…
          </Button>
        )}
      </div>
      {data && data.past.length === 0 && (
        <p className="mt-1 text-sm text-soft">
          Nobody has tried. Once somebody says that it is, its case is run where it failed, often enough.
        </p>
      )}
      <ul className="mt-1 flex flex-col gap-1 text-sm">
        {data?.past.map(({ runId, build, by, at, counts, verdict }) => (
          <li key={runId}>
            <b className="font-semibold">{VERDICT_WORDS[verdict]}</b>: build {build}, {countWords(counts)}, by{' '}
            {by} <Ago at={at} />,{' '}
            <Link className="underline" href={`/runs/${runId}`}>
              run {runId}
            </Link>
            {onTell && may('tester') && (verdict === 'close' || verdict === 'reopen') && (
              <Button
                look="quiet"
                className="!h-7 !px-2"
                onClick={() =>
                  onTell(confirmationWords({ build, counts, verdict, address: addressOfRun(runId) }))
                }
              >
                Tell the tracker…
              </Button>
            )}
          </li>
        ))}
      </ul>
      {asking && data && <Ask defect={defect} plan={data} onClose={() => setAsking(false)} />}
    </section>
  )
}

const addressOfRun = (runId: number) => `${window.location.origin}/runs/${runId}`

function countWords({
  passed,
  failed,
  other,
  open,
}: ConfirmationsViewModel['past'][number]['counts']): string {
  const words = [
    `${passed} passed`,
    failed > 0 && `${failed} failed`,
    other > 0 && `${other} neither`,
    open > 0 && `${open} to come`,
  ]
  return words.filter(Boolean).join(', ')
}

function Ask({
  defect,
  plan,
  onClose,
}: {
  defect: DefectViewModel
  plan: ConfirmationsViewModel
  onClose(): void
}) {
  const [build, setBuild] = useState(plan.builds.find((one) => one !== plan.foundIn) ?? '')
  const [times, setTimes] = useState(String(plan.times))
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(plan.environments.filter(({ failed }) => failed > 0).map(({ key }) => key)),
  )
  const { problem, busy, ask } = useAsking(onClose)
  const count = Math.round(Number(times))
  const isWhole = count >= 1 && count <= 50
  const start = async () => {
    const body = { build: build.trim(), environments: [...chosen], times: count }
    const { run } = await api<{ run: number }>(`/api/defects/${defect.id}/confirmations`, {
      method: 'POST',
      body,
    })
    toast(`Run ${run} tells whether it is mended`)
  }
  const toggle = (key: string) =>
    setChosen((now) => new Set(now.has(key) ? [...now].filter((one) => one !== key) : [...now, key]))
  return (
    <Dialog open onClose={onClose} title="Confirm a fix">
      <form className="flex flex-col gap-3" onSubmit={submitting(() => ask(start))}>
        <p className="text-sm">{whyWords(plan)}</p>
        <div className="grid grid-cols-[1fr_120px] gap-3">
          <Field label="Build that is said to have it mended">
            <TextField
              list="confirm-builds"
              value={build}
              onChange={({ target }) => setBuild(target.value)}
            />
            <datalist id="confirm-builds">
              {plan.builds.map((one) => (
                <option key={one} value={one} />
              ))}
            </datalist>
          </Field>
          <Field label="Times on each">
            <TextField inputMode="numeric" value={times} onChange={({ target }) => setTimes(target.value)} />
          </Field>
        </div>
        <fieldset>
          <legend className="label mb-1">Where</legend>
          <div className="grid max-h-48 grid-cols-2 gap-x-4 gap-y-1 overflow-auto text-sm">
            {plan.environments
              .toSorted((a, b) => b.failed - a.failed)
              .map(({ key, title, failed }) => (
                <label key={key} className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    className="accent-[var(--act)]"
                    checked={chosen.has(key)}
                    onChange={() => toggle(key)}
                  />
                  <span className="min-w-0 flex-1 truncate">{title}</span>
                  {failed > 0 && <span className="text-xs text-soft">failed {failed}</span>}
                </label>
              ))}
          </div>
        </fieldset>
        {problem && <Problem>{problem}</Problem>}
        <div>
          <Button
            look="main"
            type="submit"
            disabled={busy || build.trim() === '' || chosen.size === 0 || !isWhole}
          >
            Start {isWhole && chosen.size > 0 ? plural(count * chosen.size, 'case run') : ''}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

function whyWords({ foundIn, failed, of, times, confidence }: ConfirmationsViewModel): string {
  const sure = `${Math.floor(confidence * 100)} %`
  if (of === 0)
    return (
      `How often it failed on build ${foundIn} is not known any more: ${times} times without a failure ` +
      'are proposed.'
    )
  return (
    `On build ${foundIn} it failed ${failed} of ${of} times where it failed at all. ${times} times ` +
    `without a failure make it ${sure} sure that it is mended.`
  )
}

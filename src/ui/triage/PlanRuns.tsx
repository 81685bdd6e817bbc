'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { describeDuration } from '@/core/model'
import type { Arm } from '@/core/triage'
import { plural, type ExperimentsViewModel } from '@/core/view-models'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { submitting } from '../base/submitting'
import { TextField } from '../base/fields'

type Plan = NonNullable<ExperimentsViewModel['plan']>
const TIMES_MOST = 10

/** Which runs would tell most, to be changed and started. */
export function PlanRuns({
  path,
  signature,
  plan,
  onClose,
}: {
  path: string
  signature: string
  plan: Plan
  onClose(): void
}) {
  const [written, setWritten] = useState<Partial<Record<Arm, string>>>({})
  const { problem, busy, ask } = useAsking(onClose)
  const asked = plan.arms.map(({ arm, times }) => ({ arm, times: Number(written[arm] ?? times) }))
  const isWhole = asked.every(({ times }) => Number.isInteger(times) && times >= 0 && times <= TIMES_MOST)
  const all = asked.reduce((sum, { times }) => sum + times, 0)
  const each = plan.ms / plan.caseRuns
  const start = async () => {
    const times = Object.fromEntries(asked.map((one) => [one.arm, one.times]))
    const { runs } = await api<{ runs: number[] }>(path, { method: 'POST', body: { signature, times } })
    toast(`${plural(runs.length, 'run')} will tell what it is`)
  }
  return (
    <Dialog open onClose={onClose} title="Run again to find out">
      <form onSubmit={submitting(() => ask(start))}>
        <p className="mb-3 text-sm">
          These runs are expected to take away {Math.round(plan.share * 100)} % of what is not known of this
          cause. What they say goes into its shares; nothing is decided by it.
        </p>
        <table className="w-full text-sm">
          <thead>
            <tr className="text-left text-soft">
              <th className="py-1 font-normal">What</th>
              <th className="font-normal">Where</th>
              <th className="font-normal">Build</th>
              <th className="w-20 font-normal">Times</th>
            </tr>
          </thead>
          <tbody>
            {plan.arms.map(({ arm, environment, build, times }) => (
              <tr key={arm} className="border-t border-line">
                <td className="py-1.5 pr-2">{WHAT[arm]}</td>
                <td className="pr-2">{environment}</td>
                <td className="pr-2">{build}</td>
                <td>
                  <TextField
                    aria-label={`Times: ${WHAT[arm]}`}
                    inputMode="numeric"
                    value={written[arm] ?? String(times)}
                    onChange={({ target }) => setWritten({ ...written, [arm]: target.value })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {problem && <Problem>{problem}</Problem>}
        <div className="mt-4 flex items-center gap-3">
          <Button look="main" type="submit" disabled={busy || !isWhole || all === 0}>
            Start {isWhole && all > 0 ? plural(all, 'case run') : ''}
          </Button>
          {isWhole && all > 0 && (
            <span className="text-sm text-soft">
              {describeDuration(all * each)} of one seat, less on several at once
            </span>
          )}
        </div>
      </form>
    </Dialog>
  )
}

const WHAT: Record<Arm, string> = {
  again: 'The same again',
  before: 'With the build that was good',
  elsewhere: 'Where it was good',
}

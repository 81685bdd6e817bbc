'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { describeDuration } from '@/core/model'
import type { FleetAgentViewModel, FleetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { useNow } from '../base/Time'
import { Select } from '../base/fields'

const WHATS = { lost: 'be lost', slow: 'be slow', upset: 'have trouble with pages' } as const
const FACTORS = { lost: undefined, slow: 4, upset: 100 } as const
const SAID = {
  lost: 'not heard from',
  slow: 'four times as slow',
  upset: 'pages break and hang a hundred times as often',
} as const
const MINUTES = [1, 2, 5, 15]

/** Tells a simulated agent to do something wrong for a while: to see what a run does about it. */
export function FaultInjection({
  agent,
  viewModel,
}: {
  agent: FleetAgentViewModel
  viewModel: FleetViewModel
}) {
  const [what, setWhat] = useState<keyof typeof WHATS>('lost')
  const [minutes, setMinutes] = useState(2)
  const [environment, setEnvironment] = useState('')
  const now = useNow(5000)?.getTime() ?? Date.parse(viewModel.now)
  const ask = (body: object, said: string) =>
    api(`/api/fleet/${agent.id}/misbehave`, { method: 'POST', body }).then(
      () => toast(said),
      (error: ApiProblem) => toast.error(error.message),
    )
  const title = (key: string) => viewModel.environments.find((one) => one.key === key)?.title ?? key
  return (
    <section aria-label="Misbehave, simulated">
      <h3 className="label pt-3">Misbehave, simulated</h3>
      {agent.misbehaviours.length > 0 ? (
        <>
          <ul className="mt-1">
            {agent.misbehaviours.map((one) => (
              <li key={`${one.what} ${one.environment ?? ''}`} className="text-recovered-text">
                Told so: {SAID[one.what]}
                {one.environment && ` on ${title(one.environment)}`}, for{' '}
                {describeDuration(Math.max(0, Date.parse(one.until) - now))} more
              </li>
            ))}
          </ul>
          <Button
            className="mt-1.5"
            onClick={() => void ask({}, `${agent.name} is well again with its next heartbeat`)}
          >
            Let it be well again
          </Button>
        </>
      ) : (
        <form
          className="mt-1 flex flex-wrap items-center gap-1.5"
          onSubmit={(event) => {
            event.preventDefault()
            void ask(
              {
                what,
                minutes,
                ...(FACTORS[what] && { factor: FACTORS[what] }),
                ...(what !== 'lost' && environment && { environment }),
              },
              `${agent.name} misbehaves from its next heartbeat on`,
            )
          }}
        >
          <Select
            aria-label="What it does"
            width="w-auto"
            value={what}
            onChoose={(chosen) => setWhat(chosen as keyof typeof WHATS)}
          >
            {Object.entries(WHATS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </Select>
          {what !== 'lost' && (
            <Select aria-label="Where" width="w-auto" value={environment} onChoose={setEnvironment}>
              <option value="">everywhere</option>
              {agent.environments.map((key) => (
                <option key={key} value={key}>
                  {title(key)}
                </option>
              ))}
            </Select>
          )}
          <Select
            aria-label="How long"
            width="w-auto"
            value={minutes}
            onChoose={(chosen) => setMinutes(Number(chosen))}
          >
            {MINUTES.map((n) => (
              <option key={n} value={n}>
                for {n} min
              </option>
            ))}
          </Select>
          <Button type="submit">Do it</Button>
          <p className="basis-full text-xs text-soft">
            To see what a run does about it: {SAID[what]}. It ends by itself.
          </p>
        </form>
      )}
    </section>
  )
}

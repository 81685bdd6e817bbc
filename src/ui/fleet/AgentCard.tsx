'use client'
import { useState } from 'react'
import { toast } from 'sonner'
import { OWN_VERSION } from '@/core/execution'
import { describeDuration } from '@/core/model'
import { plural, type FleetAgentViewModel, type FleetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Simulated } from '../base/Parts'
import { RemoveButton } from '../base/RemoveButton'
import { Ago } from '../base/Time'
import { Committed } from '../bench/Committed'
import { useFrame } from '../frame/tools'
import { BusyBand } from './AgentLane'
import { FaultInjection } from './FaultInjection'
import { Select } from '../base/fields'

/** One agent under the hand: its pool, its labels, what it lacks; and out of the fleet when it is gone. */
export function AgentCard({
  agent,
  viewModel,
  onClose,
}: {
  agent: FleetAgentViewModel
  viewModel: FleetViewModel
  onClose(): void
}) {
  const { may } = useFrame()
  const [other, setOther] = useState(false)
  const editable = may('coordinator')
  const pools = [...new Set(viewModel.agents.map(({ pool }) => pool))].sort()
  const change = async (body: { pool?: string; labels?: string[] }, said: string) => {
    try {
      await api(`/api/fleet/${agent.id}`, { method: 'PATCH', body })
      toast(said)
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  const pause = (which: { id: string } | { pool: string }, paused: boolean, name: string) =>
    api('/api/fleet/pause', { method: 'POST', body: { ...which, paused } }).then(
      () => toast(paused ? `${name} is paused` : `${name} goes on`),
      (error: ApiProblem) => toast.error(error.message),
    )
  const move = (pool: string) => {
    setOther(false)
    if (pool.trim() !== '' && pool !== agent.pool)
      void change({ pool: pool.trim() }, `${agent.name} is in the pool ${pool.trim()} now`)
  }
  const term = 'label pt-2'
  return (
    <div className="flex flex-col gap-1 text-sm">
      <div className="flex items-center justify-between">
        <h2>
          {agent.name} {agent.simulated && <Simulated />}
        </h2>
        <Button look="quiet" className="!h-6 !px-2" onClick={onClose}>
          Cover
        </Button>
      </div>
      {agent.simulated && (
        <p className="text-soft">It makes real requests to the demo applications; its browser is invented.</p>
      )}
      <p className="text-soft">
        {agent.alive ? (
          <>
            heard <Ago at={agent.heartbeatAt} />
          </>
        ) : (
          <span className="text-errored">
            not heard from since <Ago at={agent.heartbeatAt} />
          </span>
        )}
        ; version {agent.version}
        {agent.version !== OWN_VERSION && (
          <span className="text-recovered-text"> (this server is {OWN_VERSION})</span>
        )}
        , {plural(agent.seats, 'seat')}
        {agent.through && (
          <>
            ; its browsers are behind <code className="font-mono text-xs">{agent.through}</code>
          </>
        )}
      </p>
      {agent.clockOffMs !== 0 && (
        <p className="text-recovered-text">
          Its clock is {describeDuration(Math.abs(agent.clockOffMs))}{' '}
          {agent.clockOffMs > 0 ? 'ahead' : 'behind'}. Times here are ours, so its logs are right; what it
          writes itself, such as dates typed by hand, may not be.
        </p>
      )}
      <h3 className={term}>Pool</h3>
      {other ? (
        <Committed label="New pool" value="" hint="name of a new pool" onCommit={move} />
      ) : (
        <Select
          aria-label="Pool"
          disabled={!editable}
          width="w-auto"
          value={agent.pool}
          onChoose={(chosen) => (chosen === '' ? setOther(true) : move(chosen))}
          choices={[...pools.map((value) => ({ value })), { value: '', label: 'another…' }]}
        />
      )}
      <h3 className={term}>Labels</h3>
      <Committed
        label="Labels"
        value={agent.labels.join(', ')}
        hint="none; with commas between"
        onCommit={(text) =>
          void change(
            {
              labels: [
                ...new Set(
                  text
                    .split(',')
                    .map((one) => one.trim())
                    .filter(Boolean),
                ),
              ],
            },
            `${agent.name} has other labels now`,
          )
        }
      />
      <h3 className={term}>Serves</h3>
      <p>
        {agent.environments
          .map(
            (key) =>
              viewModel.environments.find((one) => one.key === key)?.title ??
              `${key} (no such environment here)`,
          )
          .join(' · ')}
      </p>
      {agent.missing.length > 0 && (
        <>
          <h3 className={term}>Lacks</h3>
          <ul className="flex flex-col gap-1">
            {agent.missing.map(({ what, get }) => (
              <li key={what}>
                {what}. <code className="font-mono text-xs">{get}</code>
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 className={term}>Busy in the last 24 hours</h3>
      <BusyBand busy={agent.busy} className="h-[44px] w-full" />
      {editable && (
        <div className="flex flex-wrap gap-2 pt-3">
          <Button onClick={() => void pause({ id: agent.id }, !agent.paused, agent.name)}>
            {agent.paused ? 'Let it go on' : 'Pause'}
          </Button>
          <Button onClick={() => void pause({ pool: agent.pool }, !agent.paused, `The pool ${agent.pool}`)}>
            {agent.paused ? 'Let its pool go on' : 'Pause its pool'}
          </Button>
          <p className="basis-full text-xs text-soft">
            Paused, it takes nothing new, and what it has waits before its next step.
          </p>
        </div>
      )}
      {editable && agent.simulated && <FaultInjection agent={agent} viewModel={viewModel} />}
      {editable && (
        <div className="pt-3">
          {agent.alive ? (
            <p className="text-soft">
              To take it out of the fleet, end its process first; draining keeps new work from it.
            </p>
          ) : (
            <RemoveButton
              label={`Remove ${agent.name}`}
              word="Remove it from the fleet"
              title={`Remove ${agent.name}?`}
              onRemove={async () => {
                await api(`/api/fleet/${agent.id}`, { method: 'DELETE' })
                onClose()
              }}
            >
              It is not shown any more, and rotations do not count on its {plural(agent.seats, 'seat')}. What
              it did stays. If its process is started again, it is back.
            </RemoveButton>
          )}
        </div>
      )}
    </div>
  )
}

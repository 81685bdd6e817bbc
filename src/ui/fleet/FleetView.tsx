'use client'
import Link from 'next/link'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural, type FleetAgentSight, type FleetSight } from '@/core/sights'
import { api, useSight, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Mark } from '../base/Mark'
import { Empty, Screen, Simulated, TitleLine } from '../base/Parts'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/Frame'
import { MarginToggle, useMargin } from '../frame/Margin'
import { AddAgent } from './AddAgent'

export function FleetView({ initial }: { initial: FleetSight }) {
  const { data = initial } = useSight<FleetSight>('/api/fleet', ['fleet', 'attempt'], initial)
  const [named] = useQueryState('agent', parseAsString)
  const { may } = useFrame()
  const margin = useMargin('fleet')
  const [adding, setAdding] = useState(false)
  // Real machines first: they are fewer, and the ones a person looks after.
  const pools = [...new Set(data.agents.toSorted((a, b) => Number(a.simulated) - Number(b.simulated)).map(({ pool }) => pool))].map((pool) => [pool, data.agents.filter((agent) => agent.pool === pool)] as const)
  const alive = data.agents.filter((agent) => agent.alive)
  const busy = data.agents.reduce((sum, { work }) => sum + work.length, 0)
  return (
    <>
      <TitleLine title="Fleet" facts={data.agents.length > 0 && `${alive.length} of ${plural(data.agents.length, 'agent')} here, ${busy} of ${plural(alive.reduce((sum, { seats }) => sum + seats, 0), 'seat')} busy; ${data.agents.filter(({ simulated }) => simulated).length} simulated`}>
        {may('coordinator') && <Button look="main" onClick={() => setAdding(true)}>Add an agent</Button>}
        <MarginToggle {...margin} />
      </TitleLine>
      {data.agents.length === 0 ? <Empty title="No agents yet">An agent is a process that runs cases, on this machine or another. It registers with a token and takes work by itself.</Empty> : (
        <div className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[minmax(0,1fr)_270px]' : 'grid-cols-1'}`}>
          <div className="overflow-auto" role="region" aria-label="Agents by pool" tabIndex={0}>
            {pools.map(([pool, agents]) => (
              <section key={pool} aria-label={`Pool ${pool}`}>
                <h2 className="border-b border-line bg-ground px-[18px] pt-3 pb-1 text-sm">{pool} <span className="font-normal text-soft">{plural(agents.filter((agent) => agent.alive).reduce((sum, { seats }) => sum + seats, 0), 'seat')}</span></h2>
                <ul>{agents.map((agent) => <AgentLane key={agent.id} agent={agent} environments={data.environments} highlighted={agent.name === named} />)}</ul>
              </section>
            ))}
          </div>
          {margin.open && <aside aria-label="Cover" className="overflow-auto border-l border-line bg-surface px-4 py-3">
            <h2 className="label mb-2">Seats that can serve</h2>
            <ul className="space-y-1.5">
              {data.environments.map(({ key, title, seats, simulated }) => (
                <li key={key} className="text-sm">
                  <span className="flex items-baseline gap-2"><span className="flex-1 truncate">{title} {simulated && <Simulated short />}</span><b className={`font-semibold ${seats === 0 ? 'text-failed' : ''}`}>{seats === 0 ? 'none' : seats}</b></span>
                  <span className="mt-0.5 block h-[4px] rounded bg-line"><span className="block h-full rounded bg-act/70" style={{ width: `${(seats / Math.max(1, ...data.environments.map((other) => other.seats))) * 100}%` }} /></span>
                </li>
              ))}
            </ul>
          </aside>}
        </div>
      )}
      {adding && <AddAgent server={data.server} environments={data.environments} onClose={() => setAdding(false)} />}
    </>
  )
}

function AgentLane({ agent, environments, highlighted }: { agent: FleetAgentSight; environments: FleetSight['environments']; highlighted: boolean }) {
  const { may } = useFrame()
  const drain = async () => {
    try {
      await api(`/api/fleet/${agent.id}/drain`, { method: 'POST', body: { draining: !agent.draining } })
      toast(agent.draining ? `${agent.name} takes work again` : `${agent.name} ends what it has and takes nothing new`)
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  const titles = agent.environments.map((key) => environments.find((environment) => environment.key === key)?.title ?? key)
  return (
    <li data-agent={agent.name} className={`flex min-h-[46px] items-center gap-4 border-b border-line/70 py-1.5 pr-4 pl-[18px] ${highlighted ? 'bg-act-wash' : ''}`}>
      <div className="w-[180px] shrink-0">
        <div className="flex items-center gap-2"><Mark mark={!agent.alive ? 'errored' : agent.work.length > 0 ? 'running' : 'waiting'} size={11} silent /><b className="font-semibold">{agent.name}</b>{agent.simulated && <Simulated />}</div>
        <div className="truncate text-xs text-soft">{!agent.alive ? <span className="text-errored">not heard from since <Ago at={agent.heartbeatAt} /></span> : agent.draining ? 'draining' : agent.work.length > 0 ? 'at work' : 'free'}{agent.alive && <>, heard <Ago at={agent.heartbeatAt} /></>}</div>
      </div>
      <div className="w-[150px] shrink-0 text-xs leading-[15px] text-soft">{titles.join(' · ')}</div>
      <ul aria-label={`Seats of ${agent.name}`} className="grid min-w-0 flex-1 grid-cols-2 gap-2">
        {Array.from({ length: agent.seats }, (_, i) => agent.work.find(({ seat }) => seat === i + 1)).map((work, i) => (
          <li key={i} className={`flex h-[32px] min-w-0 items-center gap-2 rounded-[4px] border px-1.5 ${work ? 'border-running/60' : 'border-dashed border-line'}`}>
            {work ? <><Screen hash={work.screen} alt="" className="h-[24px] w-[38px] shrink-0" /><Link href={`/attempts/${work.attemptId}`} className="min-w-0 flex-1 truncate text-xs hover:underline"><b className="font-semibold">{work.title}</b> {work.atStep}</Link></> : <span className="text-xs text-soft">seat {i + 1} {agent.alive ? 'free' : ''}</span>}
          </li>
        ))}
      </ul>
      {may('coordinator') && <Button look="quiet" onClick={() => void drain()} className="w-[74px] justify-center" aria-label={`${agent.draining ? 'Resume' : 'Drain'} ${agent.name}`}>{agent.draining ? 'Resume' : 'Drain'}</Button>}
    </li>
  )
}

'use client'
import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs'
import { plural, type FleetViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { Empty, TitleLine } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { MarginToggle, useMargin } from '../frame/Margin'
import { AddAgent } from './AddAgent'
import { AgentCard } from './AgentCard'
import { AgentLane } from './AgentLane'
import { CoverMap } from './CoverMap'
import { EnvironmentsDialog } from './EnvironmentsDialog'
import { Select } from '../base/fields'

export function FleetView({ initial }: { initial: FleetViewModel }) {
  const { data = initial } = useViewModel<FleetViewModel>('/api/fleet', ['fleet', 'attempt'], initial)
  const [named, setNamed] = useQueryState('agent', parseAsString)
  const [label, setLabel] = useQueryState('label', parseAsString)
  const { may } = useFrame()
  const margin = useMargin('fleet')
  const [asked, setAsked] = useQueryState('show', parseAsStringLiteral(['agent', 'environments']))
  const shown = label === null ? data.agents : data.agents.filter(({ labels }) => labels.includes(label))
  // Real machines first: they are fewer, and the ones a person looks after.
  const pools = [
    ...new Set(shown.toSorted((a, b) => Number(a.simulated) - Number(b.simulated)).map(({ pool }) => pool)),
  ].map((pool) => [pool, shown.filter((agent) => agent.pool === pool)] as const)
  const alive = data.agents.filter((agent) => agent.alive)
  const busy = data.agents.reduce((sum, { work }) => sum + work.length, 0)
  const labels = [...new Set(data.agents.flatMap((agent) => agent.labels))].sort()
  const chosen = data.agents.find(({ name }) => name === named)
  return (
    <>
      <TitleLine
        title="Fleet"
        facts={
          data.agents.length > 0 &&
          `${alive.length} of ${plural(data.agents.length, 'agent')} here, ${busy} of ${plural(
            alive.reduce((sum, { seats }) => sum + seats, 0),
            'seat',
          )} busy; ${data.agents.filter(({ simulated }) => simulated).length} simulated`
        }
      >
        {labels.length > 0 && (
          <Select
            aria-label="Only this label"
            value={label ?? ''}
            onChoose={(chosen) => void setLabel(chosen || null)}
            width="w-auto"
            choices={labels.map((value) => ({ value }))}
          >
            <option value="">every label</option>
          </Select>
        )}
        <Button onClick={() => void setAsked('environments')}>Environments</Button>
        {may('coordinator') && (
          <Button look="main" onClick={() => void setAsked('agent')}>
            Add an agent
          </Button>
        )}
        <MarginToggle {...margin} />
      </TitleLine>
      {data.agents.length === 0 ? (
        <Empty
          title="No agents yet"
          action={
            may('coordinator') && (
              <Button look="main" onClick={() => void setAsked('agent')}>
                Add the first one
              </Button>
            )
          }
        >
          An agent is a process that runs cases, on this machine or another. It registers with a token and
          takes work by itself.
        </Empty>
      ) : (
        <div
          className={`grid min-h-0 flex-1 ${margin.open ? 'grid-cols-[minmax(0,1fr)_300px]' : 'grid-cols-1'}`}
        >
          <div className="overflow-auto" role="region" aria-label="Agents by pool" tabIndex={0}>
            {pools.map(([pool, agents]) => (
              <section key={pool} aria-label={`Pool ${pool}`}>
                <h2 className="border-b border-line bg-ground px-[18px] pt-3 pb-1 text-sm">
                  {pool}{' '}
                  <span className="font-normal text-soft">
                    {plural(
                      agents.filter((agent) => agent.alive).reduce((sum, { seats }) => sum + seats, 0),
                      'seat',
                    )}
                  </span>
                </h2>
                <ul>
                  {agents.map((agent) => (
                    <AgentLane
                      key={agent.id}
                      agent={agent}
                      environments={data.environments}
                      chosen={agent.name === named}
                      onChoose={() => void setNamed(agent.name === named ? null : agent.name)}
                    />
                  ))}
                </ul>
              </section>
            ))}
          </div>
          {margin.open && (
            <aside
              aria-label={chosen ? chosen.name : 'Cover'}
              className="overflow-auto border-l border-line bg-surface px-4 py-3"
            >
              {chosen ? (
                <AgentCard
                  key={chosen.id}
                  agent={chosen}
                  viewModel={data}
                  onClose={() => void setNamed(null)}
                />
              ) : (
                <CoverMap viewModel={data} />
              )}
            </aside>
          )}
        </div>
      )}
      {asked === 'agent' && (
        <AddAgent
          server={data.server}
          environments={data.environments}
          pools={[...new Set(data.agents.map(({ pool }) => pool))]}
          onClose={() => void setAsked(null)}
        />
      )}
      {asked === 'environments' && (
        <EnvironmentsDialog viewModel={data} onClose={() => void setAsked(null)} />
      )}
    </>
  )
}

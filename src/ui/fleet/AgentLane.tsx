'use client'
import Link from '../base/Link'
import { toast } from 'sonner'
import { OWN_VERSION } from '@/core/execution'
import type { FleetAgentViewModel, FleetViewModel } from '@/core/view-models'
import { api, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Mark } from '../base/Mark'
import { Simulated } from '../base/Parts'
import { Screen } from '../base/Screen'
import { Ago } from '../base/Time'
import { useFrame } from '../frame/tools'
import { HintedWords } from '../base/Hint'

type Props = {
  agent: FleetAgentViewModel
  environments: FleetViewModel['environments']
  chosen: boolean
  onChoose(): void
}

/** One agent: how it is, how busy it was, and what its seats do now. */
export function AgentLane({ agent, environments, chosen, onChoose }: Props) {
  const { may } = useFrame()
  const drain = async () => {
    try {
      await api(`/api/fleet/${agent.id}/drain`, { method: 'POST', body: { draining: !agent.draining } })
      toast(
        agent.draining
          ? `${agent.name} takes work again`
          : `${agent.name} ends what it has and takes nothing new`,
      )
    } catch (error) {
      toast.error((error as ApiProblem).message)
    }
  }
  const titles = agent.environments.map(
    (key) => environments.find((environment) => environment.key === key)?.title ?? key,
  )
  const workMark = agent.work.length > 0 ? 'running' : 'waiting'
  return (
    <li
      data-agent={agent.name}
      className={
        'flex min-h-[46px] items-center gap-3 border-b border-line/70 py-1.5 pr-4 pl-[18px] ' +
        `${chosen ? 'bg-act-wash' : ''}`
      }
    >
      <div className="w-[176px] shrink-0">
        <div className="flex items-center gap-2">
          <Mark mark={agent.alive ? workMark : 'errored'} size={11} silent />
          <button
            type="button"
            aria-pressed={chosen}
            onClick={onChoose}
            className="font-semibold hover:underline"
          >
            {agent.name}
          </button>
          {agent.simulated && <Simulated />}
          {agent.through && (
            <HintedWords className="text-xs text-soft" text={`Its browsers are behind ${agent.through}`}>
              bridge
            </HintedWords>
          )}
          {agent.missing.length > 0 && (
            <HintedWords
              className="text-xs text-recovered-text"
              text={agent.missing.map(({ what }) => `${what} is missing`).join(', ')}
            >
              lacks {agent.missing.length}
            </HintedWords>
          )}
        </div>
        <div className="truncate text-xs text-soft">
          {agent.misbehaviours.length > 0 && (
            <HintedWords className="text-recovered-text" text="It was told to: a simulated upset">
              misbehaves,{' '}
            </HintedWords>
          )}
          {agent.version !== OWN_VERSION && (
            <HintedWords
              className="text-recovered-text"
              text={
                `It is of version ${agent.version}, this server of ${OWN_VERSION}. It works as long as ` +
                'it speaks the server’s protocol.'
              }
            >
              other version,{' '}
            </HintedWords>
          )}
          {agent.clockOffMs !== 0 && (
            <HintedWords
              className="text-recovered-text"
              text="Its clock is not ours; its card says by how much"
            >
              clock off,{' '}
            </HintedWords>
          )}
          <StateWords agent={agent} />
          {agent.alive && (
            <>
              , heard <Ago at={agent.heartbeatAt} />
            </>
          )}
        </div>
      </div>
      <div className="w-[136px] shrink-0 text-xs leading-[15px] text-soft">
        {titles.join(' · ')}
        {agent.labels.length > 0 && (
          <span className="block truncate text-ink">{agent.labels.join(', ')}</span>
        )}
      </div>
      <BusyBand busy={agent.busy} />
      <ul aria-label={`Seats of ${agent.name}`} className="grid min-w-0 flex-1 grid-cols-2 gap-2">
        {Array.from({ length: agent.seats }, (_, i) => agent.work.find(({ seat }) => seat === i + 1)).map(
          (work, i) => (
            <li
              key={i}
              className={
                'flex h-[32px] min-w-0 items-center gap-2 rounded-[4px] border px-1.5 ' +
                `${work ? 'border-running/60' : 'border-dashed border-line'}`
              }
            >
              {work ? (
                <>
                  <Screen hash={work.screen} alt="" className="h-[24px] w-[38px] shrink-0" />
                  <Link
                    href={`/attempts/${work.attemptId}`}
                    className="min-w-0 flex-1 truncate text-xs hover:underline"
                  >
                    <b className="font-semibold">{work.title}</b> {work.atStep}
                  </Link>
                </>
              ) : (
                <span className="text-xs text-soft">
                  seat {i + 1} {agent.alive ? 'free' : ''}
                </span>
              )}
            </li>
          ),
        )}
      </ul>
      {may('coordinator') && (
        <Button
          look="quiet"
          onClick={() => void drain()}
          className="w-[74px] justify-center"
          aria-label={`${agent.draining ? 'Resume' : 'Drain'} ${agent.name}`}
        >
          {agent.draining ? 'Resume' : 'Drain'}
        </Button>
      )}
    </li>
  )
}

/** The last 24 hours, an hour a bar: as high as its seats were busy. */
export function BusyBand({
  busy,
  className = 'h-[22px] w-[72px]',
}: {
  busy: readonly number[]
  className?: string
}) {
  const all = busy.reduce((sum, share) => sum + share, 0) / busy.length
  return (
    <svg
      viewBox="0 0 72 22"
      preserveAspectRatio="none"
      role="img"
      aria-label={`busy ${Math.round(all * 100)}% of the last 24 hours`}
      className={`shrink-0 ${className}`}
    >
      <line x1="0" x2="72" y1="21.5" y2="21.5" className="stroke-line" />
      {busy.map(
        (share, i) =>
          share > 0 && (
            <rect
              key={i}
              x={i * 3}
              width="2.2"
              y={21 - Math.max(1.5, share * 20)}
              height={Math.max(1.5, share * 20)}
              className="fill-act/70"
            />
          ),
      )}
    </svg>
  )
}

function StateWords({ agent }: Pick<Props, 'agent'>) {
  if (!agent.alive)
    return (
      <span className="text-errored">
        not heard from since <Ago at={agent.heartbeatAt} />
      </span>
    )
  if (agent.paused) return <b className="font-semibold text-running">paused</b>
  if (agent.draining) return 'draining'
  return agent.work.length > 0 ? 'at work' : 'free'
}

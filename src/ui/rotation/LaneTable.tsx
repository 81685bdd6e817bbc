'use client'
import { useState } from 'react'
import { laneOf, lanePieces, withLane, type LanePiece } from '@/core/rota'
import { plural } from '@/core/view-models'
import type { BandProps } from './edit'

type Agent = { name: string; environments: readonly string[] }
type Lane = { agent: Agent | undefined; pieces: LanePiece[] }

const canDo = (agent: Agent | undefined, { environment }: Pick<LanePiece, 'environment'>): boolean =>
  agent === undefined || agent.environments.includes(environment)

/** Cases given to agents by hand, on each environment: each agent a place to drop them on; whoever does not
 * drag chooses from the list beside the case. Only agents that serve the environment are offered. */
export function LaneTable({ rotation: { where }, foreseen: { basis, outlook }, editable, put }: BandProps) {
  const [dragged, setDragged] = useState<LanePiece>()
  if (!basis || !outlook) return null
  const environments = outlook.picked.keys
  const pieces = lanePieces(basis, environments)
  const agents: Agent[] = basis.agents.filter(
    (agent) => where.pool === undefined || agent.pool === where.pool,
  )
  const titles = new Map(basis.environments.map(({ key, title }) => [key, title]))
  const agentOf = (piece: LanePiece) => laneOf(where.lanes, piece.case, piece.environment)
  const isHere = (name: string | undefined) => agents.some((agent) => agent.name === name)
  const lanes: Lane[] = [
    { agent: undefined, pieces: pieces.filter((piece) => !isHere(agentOf(piece))) },
    ...agents.map((agent) => ({ agent, pieces: pieces.filter((piece) => agentOf(piece) === agent.name) })),
  ]
  const give = (piece: LanePiece, agent: string | undefined) => {
    const given = withLane(where.lanes, piece, agent, environments)
    put(['where', 'lanes'], Object.keys(given).length > 0 ? given : undefined)
  }
  return (
    <div
      data-field="where.lanes"
      role="group"
      aria-label="Cases by agent"
      className="grid max-h-[320px] grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-2 overflow-auto"
    >
      {lanes.map(({ agent, pieces: own }) => (
        <section
          key={agent?.name ?? ''}
          aria-label={agent?.name ?? 'Given to nobody'}
          className={
            'rounded-oak border p-1.5 ' +
            `${agent === undefined ? 'border-dashed border-line' : 'border-line bg-raised'} ` +
            `${dragged && !canDo(agent, dragged) ? 'opacity-50' : ''}`
          }
          onDragOver={(event) => dragged && canDo(agent, dragged) && event.preventDefault()}
          onDrop={() => {
            if (dragged && editable && canDo(agent, dragged)) give(dragged, agent?.name)
            setDragged(undefined)
          }}
        >
          <h3 className="mb-1 flex justify-between text-xs">
            <b className="font-semibold">{agent?.name ?? 'to be given'}</b>
            <span className="text-soft">{plural(own.length, 'case run')}</span>
          </h3>
          <ul className="flex flex-col gap-1">
            {own.map((piece) => (
              <Piece
                key={`${piece.case}@${piece.environment}`}
                piece={piece}
                place={environments.length > 1 ? (titles.get(piece.environment) ?? piece.environment) : ''}
                agent={agent?.name}
                agents={agents.filter((one) => canDo(one, piece))}
                editable={editable}
                onDrag={setDragged}
                onGive={(name) => give(piece, name)}
              />
            ))}
          </ul>
        </section>
      ))}
    </div>
  )
}

function Piece({
  piece,
  place,
  agent,
  agents,
  editable,
  onDrag,
  onGive,
}: {
  piece: LanePiece
  /** Title of the environment, where there are several. */
  place: string
  agent: string | undefined
  agents: readonly Agent[]
  editable: boolean
  onDrag(piece: LanePiece | undefined): void
  onGive(agent: string | undefined): void
}) {
  const name = place === '' ? piece.title : `${piece.title}, ${place}`
  return (
    <li
      draggable={editable}
      onDragStart={() => onDrag(piece)}
      onDragEnd={() => onDrag(undefined)}
      className="flex items-center gap-1 rounded-[4px] border border-line bg-surface py-0.5 pl-1.5 text-xs"
    >
      <span className="min-w-0 flex-1">
        <span className="block truncate" title={piece.title}>
          {piece.title}
        </span>
        {place !== '' && <span className="block truncate text-soft">{place}</span>}
      </span>
      <select
        aria-label={`Agent of ${name}`}
        value={agent ?? ''}
        onChange={({ target }) => onGive(target.value || undefined)}
        className="h-[20px] w-[18px] shrink-0 bg-transparent text-soft"
      >
        <option value="">nobody</option>
        {agents.map((one) => (
          <option key={one.name}>{one.name}</option>
        ))}
      </select>
    </li>
  )
}

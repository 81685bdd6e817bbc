'use client'
import { plural } from '@/core/view-models'
import type { BandProps } from './edit'

/** Cases given to agents by hand: each agent a place to drop cases on; whoever does not drag chooses from the
 * list beside the case. */
export function LaneTable({ rotation: { where }, foreseen: { basis }, editable, put }: BandProps) {
  const cases = [
    ...new Map(
      (basis?.items ?? []).filter(({ phase }) => !phase).map((item) => [item.case, item.title]),
    ).entries(),
  ]
  const agents = (basis?.agents ?? [])
    .filter((agent) => where.pool === undefined || agent.pool === where.pool)
    .map(({ name }) => name)
  const give = (key: string, agent: string | undefined) =>
    put(['where', 'lanes'], nonEmpty({ ...where.lanes, [key]: agent }))
  const open = cases.filter(([key]) => where.lanes[key] === undefined)
  const lanes: (readonly [string | undefined, readonly (readonly [string, string])[]])[] = [
    [undefined, open],
    ...agents.map((agent) => [agent, cases.filter(([key]) => where.lanes[key] === agent)] as const),
  ]
  return (
    <div
      data-field="where.lanes"
      role="group"
      aria-label="Cases by agent"
      className="grid max-h-[260px] grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-2 overflow-auto"
    >
      {lanes.map(([agent, own]) => (
        <section
          key={agent ?? ''}
          aria-label={agent ?? 'Given to nobody'}
          className={`rounded-oak border p-1.5 ${agent === undefined ? 'border-dashed border-line' : 'border-line bg-raised'}`}
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            const key = event.dataTransfer.getData('text/oak-case')
            if (key && editable) give(key, agent)
          }}
        >
          <h3 className="mb-1 flex justify-between text-xs">
            <b className="font-semibold">{agent ?? 'to be given'}</b>
            <span className="text-soft">{plural(own.length, 'case')}</span>
          </h3>
          <ul className="flex flex-col gap-1">
            {own.map(([key, title]) => (
              <li
                key={key}
                draggable={editable}
                onDragStart={(event) => event.dataTransfer.setData('text/oak-case', key)}
                className="flex items-center gap-1 rounded-[4px] border border-line bg-surface pl-1.5 text-xs"
              >
                <span className="min-w-0 flex-1 truncate" title={title}>
                  {title}
                </span>
                <select
                  aria-label={`Agent of ${title}`}
                  value={agent ?? ''}
                  onChange={({ target }) => give(key, target.value || undefined)}
                  className="h-[20px] w-[18px] shrink-0 bg-transparent text-soft"
                >
                  <option value="">nobody</option>
                  {agents.map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </select>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  )
}

function nonEmpty(lanes: Record<string, string | undefined>): Record<string, string> | undefined {
  const given = Object.fromEntries(
    Object.entries(lanes).filter((pair): pair is [string, string] => pair[1] !== undefined),
  )
  return Object.keys(given).length > 0 ? given : undefined
}

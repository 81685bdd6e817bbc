'use client'
import type { Fix } from '@/core/rota'
import type { RotaViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Mark } from '../base/Mark'
import { clashWhat, clashWhen, grouped, fixWords, momentWords, type ClashGroup } from './words'
import { useRotaChange } from './useRota'

const SHOWN_MOST = 3

/** Every clash as a sentence, with what would mend it, one click away; and starts that were not what was
 * planned. */
export function ClashList({
  viewModel,
  now,
  editable,
  onShow,
}: {
  viewModel: RotaViewModel
  now: Date
  editable: boolean
  onShow(id: string): void
}) {
  const groups = grouped(viewModel.clashes, viewModel.occurrences)
  const missed = viewModel.occurrences
    .filter(({ state }) => state === 'skipped' || state === 'failed')
    .toReversed()
  if (groups.length === 0 && missed.length === 0) return null
  return (
    <section
      aria-label="Clashes"
      className="max-h-[190px] shrink-0 overflow-auto border-t border-line bg-ground"
    >
      <ul className="divide-y divide-line">
        {groups.slice(0, SHOWN_MOST).map((group) => (
          <Clash
            key={group.clash.ids.join()}
            group={group}
            viewModel={viewModel}
            now={now}
            editable={editable}
            onShow={onShow}
          />
        ))}
      </ul>
      {groups.length > SHOWN_MOST && (
        <p className="px-[18px] py-1.5 text-sm text-soft">
          and {groups.length - SHOWN_MOST} other clashes, hatched above
        </p>
      )}
      {missed.length > 0 && (
        <p className="border-t border-line px-[18px] py-1.5 text-sm text-soft">
          {missed.slice(0, 2).map(({ id, title, at, state, note }) => (
            <button
              key={id}
              type="button"
              className="mr-3 text-left underline decoration-line underline-offset-2"
              onClick={() => onShow(id)}
            >
              {title}, {momentWords(at, now)}, {state === 'failed' ? 'did not start' : 'was skipped'}
              {note && `: ${note}`}
            </button>
          ))}
          {missed.length > 2 && `and ${missed.length - 2} more`}
        </p>
      )}
    </section>
  )
}

function Clash({
  group,
  viewModel,
  now,
  editable,
  onShow,
}: {
  group: ClashGroup
  viewModel: RotaViewModel
  now: Date
  editable: boolean
  onShow(id: string): void
}) {
  const change = useRotaChange()
  const { clash, more } = group
  const take = (fix: Fix, series: boolean) => {
    const start = viewModel.occurrences.find(({ id }) => id === fix.id)!
    const said = `${fixWords(fix, viewModel.occurrences, now)}: done`
    return change(
      start.rotation,
      fix.do === 'pool' ? { pool: fix.pool } : { move: { at: start.at, to: fix.at, series } },
      said,
    )
  }
  const [first] = clash.fixes
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1.5 px-[18px] py-2.5">
      <Mark mark="failed" size={12} silent />
      <button
        type="button"
        className="min-w-[320px] flex-1 text-left text-sm"
        onClick={() => group.starts[0] && onShow(group.starts.at(-1)!.id)}
      >
        <b className="font-semibold">{clashWhen(clash, now)}</b>: {clashWhat(group)}
      </button>
      {editable && (
        <span className="flex flex-wrap gap-2">
          {clash.fixes.length === 0 && (
            <span className="text-sm text-soft">nothing within twelve hours would mend it</span>
          )}
          {clash.fixes.map((fix, i) => (
            <Button
              key={`${fix.do} ${fix.do === 'move' ? fix.at : fix.pool}`}
              look={i === 0 ? 'main' : 'plain'}
              onClick={() => void take(fix, false)}
            >
              {fixWords(fix, viewModel.occurrences, now)}
            </Button>
          ))}
          {more.length > 0 && first?.do === 'move' && (
            <Button onClick={() => void take(first, true)}>The same for all of its starts</Button>
          )}
        </span>
      )}
    </li>
  )
}

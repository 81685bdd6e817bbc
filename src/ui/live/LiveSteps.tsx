'use client'
import { useState } from 'react'
import { describeDuration } from '@/core/model'
import type { LiveSessionViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Hint } from '../base/Hint'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Problem } from '../base/Parts'
import type { StepRow } from '../bench/step-rows'
import { StepTree } from '../bench/StepTree'
import { Picked } from './Picked'
import { Recorded } from './Recorded'
import type { SessionState, StepMark } from './session-state'
import type { LiveCase } from './useLiveCase'
import type { Order } from './useLiveLine'
import { Values } from './Values'
import { YourTurn } from './YourTurn'

type Props = {
  live: LiveCase
  state: SessionState
  offers: LiveSessionViewModel['bench']['offers']
  say(order: Order): void
  onPickedSeen(): void
}

/** The steps of the case beside the browser, what was recorded, what was picked, and the values. */
export function LiveSteps({ live, state, offers, say, onPickedSeen }: Props) {
  const [open, setOpen] = useState<string>()
  const { draft, rows, selected, chosen, editable, canPlay, working } = live
  const failureOf = (row: StepRow | undefined) => row && state.marks[row.id]?.failure
  const failing = failureOf(chosen) ? chosen : rows.find(failureOf)
  const failed = failureOf(failing)
  return (
    <aside aria-label="Steps" className="flex min-h-0 flex-col overflow-auto border-l border-line bg-surface">
      <div className="flex flex-wrap items-center gap-2 border-b border-line px-[14px] py-2">
        <Button look="main" keyHint="s" disabled={!canPlay} onClick={live.oneStep}>
          One step
        </Button>
        <Button keyHint="f" disabled={!canPlay} onClick={live.fromHere}>
          From here
        </Button>
        <Button keyHint="u" disabled={!canPlay} onClick={live.upToHere}>
          Up to here
        </Button>
        {working && <Button onClick={() => say({ do: 'stop' })}>Stop</Button>}
      </div>
      {state.judge && (
        <YourTurn
          key={`${state.judge.words} ${state.judge.expected ?? ''}`}
          asked={state.judge}
          disabled={!live.driving}
          say={say}
        />
      )}
      {state.picked === null && (
        <p className="px-[14px] py-3 text-sm text-soft">Nothing is there to check.</p>
      )}
      {state.picked && (
        <Picked
          facts={state.picked}
          onAdd={(step) => live.insert([step]) && onPickedSeen()}
          onClose={onPickedSeen}
        />
      )}
      <Recorded
        steps={state.recorded}
        values={state.browser?.values ?? {}}
        parameters={live.parameters}
        place={chosen ? `after step ${chosen.number}` : 'at the end'}
        editable={editable}
        onInsert={live.takeRecorded}
        onForget={() => say({ do: 'forget' })}
      />
      {draft.problems[0] && (
        <div className="px-[14px] py-2">
          <Problem>{draft.problems[0].message}</Problem>
        </div>
      )}
      {failing && failed && (
        <p role="status" className="border-b border-line bg-failed-wash px-[14px] py-2 text-sm">
          Step {failing.number}: {failed.message}
          {failed.expected !== undefined &&
            `; expected ${failed.expected}, found ${failed.actual ?? 'nothing'}`}
        </p>
      )}
      {rows.length > 0 && (
        <div className="border-b border-line">
          <StepTree
            label="Steps of the case"
            rows={rows}
            selected={selected === undefined ? [] : [selected]}
            onSelect={(ids) => live.select(ids.at(-1))}
            editable={editable}
            edit={draft.edit}
            open={open}
            onOpen={setOpen}
            screens={{}}
            offers={offers}
            problemLines={new Set(draft.warnings.map(({ line }) => line))}
            before={(row) => (
              <StepGutter
                row={row}
                known={state.marks[row.id]}
                stops={live.stops.has(row.id)}
                onStop={() => live.toggleStop(row.id)}
              />
            )}
          />
        </div>
      )}
      <Values
        values={state.browser?.values ?? {}}
        editable={live.driving && !working}
        onSet={(name, value) => say({ do: 'set', name, value })}
      />
    </aside>
  )
}

/** How the step ended when it was carried out last, and whether playing stops before it. */
function StepGutter({
  row,
  known,
  stops,
  onStop,
}: {
  row: StepRow
  known: StepMark | undefined
  stops: boolean
  onStop(): void
}) {
  return (
    <span className="flex w-8 shrink-0 items-center gap-1.5">
      <Hint text={stops ? 'Playing stops before it' : 'Stop before it'}>
        <button
          type="button"
          aria-label={`Stop before step ${row.number}`}
          aria-pressed={stops}
          onClick={(event) => {
            event.stopPropagation()
            onStop()
          }}
          className="grid size-3.5 place-items-center text-running opacity-20 hover:opacity-100 aria-pressed:opacity-100"
        >
          <span className="size-2.5 rotate-45 bg-running" aria-hidden />
        </button>
      </Hint>
      {known && (
        <span title={markWords(known)}>
          <Mark mark={known.mark} />
        </span>
      )}
    </span>
  )
}

const markWords = ({ mark, ms, failure }: StepMark): string =>
  [MARK_WORDS[mark], ms !== undefined && `in ${describeDuration(ms)}`, failure?.message]
    .filter(Boolean)
    .join(', ')

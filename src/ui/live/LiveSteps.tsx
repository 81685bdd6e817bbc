'use client'
import { useState } from 'react'
import { describeDuration } from '@/core/model'
import type { Stop } from '@/core/live'
import type { LiveSessionViewModel } from '@/core/view-models'
import { Button } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Problem } from '../base/Parts'
import type { StepRow } from '../bench/step-rows'
import { StepTree } from '../bench/StepTree'
import { Picked } from './Picked'
import { Recorded } from './Recorded'
import { HeldSteps } from './HeldSteps'
import type { SessionState, StepMark } from './session-state'
import { StopFields } from './StopFields'
import { StopMark } from './StopMark'
import type { LiveCase } from './useLiveCase'
import type { Order } from './useLiveLine'
import { Values } from './Values'
import { WithinRoutine } from './WithinRoutine'
import { YourTurn } from './YourTurn'

type Props = {
  live: LiveCase
  state: SessionState
  session: Pick<LiveSessionViewModel, 'bench' | 'routines'>
  say(order: Order): void
  onPickedSeen(): void
}

/** The steps of the case beside the browser, what was recorded, what was picked, and the values. */
export function LiveSteps({ live, state, session, say, onPickedSeen }: Props) {
  const { offers, rowCount } = session.bench
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
        {live.isBlock && (
          <Button keyHint="o" disabled={!canPlay} onClick={live.wholeBlock}>
            Whole block
          </Button>
        )}
        {working && <Button onClick={() => say({ do: 'stop' })}>Stop</Button>}
        <Button
          look="quiet"
          aria-pressed={live.isSlow}
          className="ml-auto aria-pressed:bg-act-wash"
          onClick={() => live.setSlow(!live.isSlow)}
        >
          Slowly
        </Button>
      </div>
      {state.held && <HeldSteps held={state.held} disabled={!live.driving} say={say} />}
      {chosen && live.stops[chosen.id] && (
        <StopFields
          key={chosen.id}
          number={chosen.number}
          stop={live.stops[chosen.id]!}
          values={Object.keys(state.browser?.values ?? {})}
          onChange={(stop) => live.setStop(chosen.id, stop)}
        />
      )}
      {chosen && (
        <WithinRoutine
          key={`routine of ${chosen.id}`}
          row={chosen}
          routines={session.routines}
          stops={live.stops}
          onStop={live.toggleStop}
        />
      )}
      {state.judge && (
        <YourTurn
          key={`${state.judge.words} ${state.judge.expected ?? ''}`}
          asked={state.judge}
          disabled={!live.driving}
          say={say}
        />
      )}
      {state.picked === null && (
        <p className="px-[14px] py-3 text-sm text-soft">Nothing that can be checked is found there.</p>
      )}
      {state.picked && (
        <Picked
          facts={state.picked}
          onAdd={(steps) => live.insert(steps) && onPickedSeen()}
          onClose={onPickedSeen}
        />
      )}
      <Recorded
        steps={state.recorded}
        values={state.browser?.values ?? {}}
        parameters={live.parameters}
        place={chosen ? `after step ${chosen.number}` : 'at the end'}
        editable={editable}
        routines={session.routines}
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
                stop={live.stops[row.id]}
                onStop={() => live.toggleStop(row.id)}
              />
            )}
          />
        </div>
      )}
      <Values
        rows={rowCount}
        row={live.rowNow}
        onRow={live.goToRow}
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
  stop,
  onStop,
}: {
  row: StepRow
  known: StepMark | undefined
  stop: Stop | undefined
  onStop(): void
}) {
  return (
    <span className="flex w-8 shrink-0 items-center gap-1.5">
      <StopMark label={`Stop before step ${row.number}`} stop={stop} onStop={onStop} />
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

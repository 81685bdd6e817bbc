'use client'
import { useRouter } from '../base/opening'
import type { OutlineLine } from '@/core/execution'
import { caseRunTime, type CaseRunTime } from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { AttemptViewModel } from '@/core/view-models'
import { api } from '../api'
import { Mark } from '../base/Mark'

/** Videos have about seven pictures a second: an arrow key goes on by one. */
const PICTURE_MS = 1000 / 7
const FAR_MS = 1000

type Props = {
  viewModel: AttemptViewModel
  selected: OutlineLine | undefined
  /** The moment that is shown; absent: that of the selected step. */
  time: number | undefined
  onSeek(ms: number): void
  onSelect(path: string): void
}

/** The moment of a step: a failure is seen at its end, everything else at its start. */
export const momentOf = (line: OutlineLine | undefined): number | undefined =>
  line?.startMs === undefined ? undefined : line.startMs + (line.failing ? (line.ms ?? 0) : 0)

/** The attempt on one line of time, which is dragged: a tick a step, what recovery did, what was waited for,
 * its failures. */
export function TimeLine({ viewModel, selected, time, onSeek, onSelect }: Props) {
  const { ticks, failures, spans } = viewModel.outline.film
  const at = time ?? momentOf(selected)
  const percent = (ms: number) => Math.min(100, Math.max(0, (ms / viewModel.ms) * 100))
  const go = (ms: number) => onSeek(Math.min(viewModel.ms, Math.max(0, ms)))
  const drag = (event: React.PointerEvent<HTMLDivElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect()
    go(((event.clientX - left) / width) * viewModel.ms)
  }
  const onKey = (event: React.KeyboardEvent) => {
    const now = at ?? 0
    const step = event.shiftKey ? FAR_MS : PICTURE_MS
    const places: Record<string, number> = {
      ArrowLeft: now - step,
      ArrowRight: now + step,
      Home: 0,
      End: viewModel.ms,
    }
    const place = places[event.key]
    if (place === undefined) return
    event.preventDefault()
    go(place)
  }
  const aim = (path: string) => ({
    onPointerDown: (event: React.PointerEvent) => event.stopPropagation(),
    onClick: () => onSelect(path),
  })
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Time in the attempt"
      aria-valuemin={0}
      aria-valuemax={viewModel.ms}
      aria-valuenow={Math.round(at ?? 0)}
      aria-valuetext={describeDuration(at ?? 0)}
      className="relative mt-2 h-[22px] cursor-ew-resize touch-none select-none"
      onKeyDown={onKey}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        drag(event)
      }}
      onPointerMove={(event) =>
        event.buttons === 1 && event.currentTarget.hasPointerCapture(event.pointerId) && drag(event)
      }
    >
      <div className="absolute top-[7px] h-1 w-full rounded bg-line" />
      {spans.map(({ path, kind, fromMs, toMs, words }) => (
        <span
          key={path}
          aria-hidden
          title={
            `${kind === 'wait' ? 'waited' : 'recovery'}: ${words.object || words.verb}, ` +
            `${describeDuration(toMs - fromMs)}`
          }
          className={`absolute top-[15px] h-1 rounded ${kind === 'wait' ? 'bg-faint' : 'bg-recovered'}`}
          style={{ left: `${percent(fromMs)}%`, width: `max(3px, ${percent(toMs) - percent(fromMs)}%)` }}
          {...aim(path)}
        />
      ))}
      {ticks.map(({ path, words, atMs }) => (
        <span
          key={path}
          aria-hidden
          title={`${words.verb} ${words.object}`}
          className="absolute top-[3px] h-3 w-[3px] -translate-x-px cursor-pointer bg-faint hover:bg-ink"
          style={{ left: `${percent(atMs)}%` }}
          {...aim(path)}
        />
      ))}
      {failures.map(({ path, atMs, message }) => (
        <span
          key={path}
          aria-hidden
          title={message}
          className="absolute top-[3px] size-[11px] -translate-x-1/2 rotate-45 cursor-pointer bg-failed"
          style={{ left: `${percent(atMs)}%` }}
          {...aim(path)}
        />
      ))}
      {at !== undefined && (
        <span
          aria-hidden
          className="pointer-events-none absolute top-[-4px] h-[26px] w-0.5 -translate-x-px bg-act"
          style={{ left: `${percent(at)}%` }}
        >
          <span className="absolute top-0 left-1/2 size-[7px] -translate-x-1/2 rounded-full bg-act" />
        </span>
      )}
    </div>
  )
}

/** All attempts of the case run on its time, roles beside each other; at work at the moment that is shown. */
export function CaseRunLanes({ viewModel, time }: { viewModel: AttemptViewModel; time: number | undefined }) {
  const router = useRouter()
  const all = caseRunTime(viewModel.attempts)
  if (!all) return null
  /** The other attempt at the same moment, if it was at work then; else at its own beginning. */
  const open = async (id: string) => {
    const { startMs } = viewModel.attempts.find((one) => one.id === id)!
    const ms = Math.round((time ?? 0) - (startMs ?? 0))
    const { path } = await api<{ path: string | null }>(
      `/api/attempts/${id}/path-at?ms=${Math.max(0, ms)}`,
    ).catch(() => ({ path: null }))
    router.push(`/attempts/${id}${path && ms >= 0 ? `?step=${encodeURIComponent(path)}` : ''}`)
  }
  return (
    <div aria-label="Attempts of the case run" role="group" className="mb-1.5 grid gap-0.5">
      {all.lanes.map(({ role, bars }) => (
        <div key={role} className="grid grid-cols-[84px_1fr] items-center gap-2 text-[11px] text-soft">
          <span className="truncate">{role || 'attempts'}</span>
          <span className="relative h-3.5">
            {bars.map((bar) => (
              <LaneBar key={bar.id} bar={bar} viewModel={viewModel} onOpen={() => void open(bar.id)} />
            ))}
            {time !== undefined && (
              <span
                aria-hidden
                className="pointer-events-none absolute top-[-1px] h-4 w-0.5 -translate-x-px bg-act"
                style={{ left: `${((time - all.fromMs) / (all.toMs - all.fromMs)) * 100}%` }}
              />
            )}
          </span>
        </div>
      ))}
    </div>
  )
}

type Bar = CaseRunTime['lanes'][number]['bars'][number]
function LaneBar({ bar, viewModel, onOpen }: { bar: Bar; viewModel: AttemptViewModel; onOpen(): void }) {
  const { number, role, mark } = viewModel.attempts.find(({ id }) => id === bar.id)!
  const isThis = bar.id === viewModel.id
  return (
    <button
      type="button"
      onClick={onOpen}
      disabled={isThis}
      aria-label={`Attempt ${number}${role === '' ? '' : `, ${role}`}, at the same moment`}
      className={
        'absolute top-0 flex h-3.5 items-center overflow-hidden rounded-sm border px-0.5 ' +
        `${isThis ? 'border-act bg-act-wash' : 'border-line bg-ground hover:border-faint'}`
      }
      style={{ left: `${bar.from * 100}%`, width: `max(14px, ${bar.share * 100}%)` }}
    >
      <Mark mark={mark} silent className="scale-75" />
    </button>
  )
}

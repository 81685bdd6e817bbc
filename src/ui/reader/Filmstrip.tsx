'use client'
import { FRAMES, type OutlineLine } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { evidenceUrl } from '../base/Parts'

const time = (ms: number) =>
  `${String(Math.floor(ms / 60_000)).padStart(2, '0')}:${String(Math.floor(ms / 1000) % 60).padStart(2, '0')}`

/** The attempt on one line of time: screens, a tick a step, the failure where it was. */
export function Filmstrip({
  viewModel,
  selected,
  onSelect,
}: {
  viewModel: AttemptViewModel
  selected: OutlineLine | undefined
  onSelect(path: string): void
}) {
  const { frames, ticks, failures } = viewModel.outline.film
  const here =
    selected?.startMs === undefined
      ? -1
      : Math.min(
          FRAMES - 1,
          Math.floor(((selected.startMs + (selected.ms ?? 0) / 2) / viewModel.ms) * FRAMES),
        )
  const percent = (ms: number) => Math.min(100, (ms / viewModel.ms) * 100)
  const at =
    selected?.startMs === undefined
      ? undefined
      : selected.startMs + (selected.failing ? (selected.ms ?? 0) : 0)
  return (
    <section aria-label="Filmstrip" className="shrink-0 border-t border-line bg-surface px-4 pt-1.5 pb-3">
      <div className="flex justify-between text-[11px] text-soft">
        <span>00:00</span>
        <span>
          {viewModel.video ? 'video, screens and log move together' : 'screens and log move together'}
        </span>
        <span>{time(viewModel.ms)}</span>
      </div>
      <div
        className="mt-1 grid h-[52px] gap-1"
        style={{ gridTemplateColumns: `repeat(${FRAMES}, minmax(0, 1fr))` }}
      >
        {frames.map((frame, i) =>
          frame ? (
            <button
              key={i}
              type="button"
              onClick={() => onSelect(frame.path)}
              aria-label={`Screen at ${time(frame.screen.atMs)}, ${frame.words.verb} ${frame.words.object}`}
              className={`overflow-hidden border ${i === here ? 'border-2 border-act' : 'border-line hover:border-faint'}`}
            >
              <img
                src={evidenceUrl(frame.screen.hash)}
                alt=""
                loading="lazy"
                className="size-full object-cover object-top"
              />
            </button>
          ) : (
            <span key={i} className="border border-dashed border-line" />
          ),
        )}
      </div>
      <div className="relative mt-2 h-[18px]">
        <div className="absolute top-[7px] h-1 w-full rounded bg-line" />
        {ticks.map(({ path, words, atMs }) => (
          <button
            key={path}
            type="button"
            tabIndex={-1}
            aria-hidden
            onClick={() => onSelect(path)}
            title={`${words.verb} ${words.object}`}
            className="absolute top-[3px] h-3 w-[3px] -translate-x-px bg-faint hover:bg-ink"
            style={{ left: `${percent(atMs)}%` }}
          />
        ))}
        {failures.map(({ path, atMs, message }) => (
          <button
            key={path}
            type="button"
            tabIndex={-1}
            aria-hidden
            onClick={() => onSelect(path)}
            title={message}
            className="absolute top-[3px] size-[11px] -translate-x-1/2 rotate-45 bg-failed"
            style={{ left: `${percent(atMs)}%` }}
          />
        ))}
        {at !== undefined && (
          <span
            aria-hidden
            className="absolute top-[-4px] h-[26px] w-0.5 -translate-x-px bg-act"
            style={{ left: `${percent(at)}%` }}
          />
        )}
      </div>
    </section>
  )
}

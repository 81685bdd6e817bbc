'use client'
import { FRAMES, type OutlineLine } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { EvidenceImage } from '../base/EvidenceImage'
import { CaseRunLanes, momentOf, TimeLine } from './TimeLine'

const clock = (ms: number) =>
  `${String(Math.floor(ms / 60_000)).padStart(2, '0')}:${String(Math.floor(ms / 1000) % 60).padStart(2, '0')}`

/** The attempt on one line of time: screens, a tick a step, the failure where it was. */
export function Filmstrip({
  viewModel,
  selected,
  time,
  onSeek,
  onSelect,
}: {
  viewModel: AttemptViewModel
  selected: OutlineLine | undefined
  /** The moment that is shown; absent: that of the selected step. */
  time: number | undefined
  onSeek(ms: number): void
  onSelect(path: string): void
}) {
  const { frames } = viewModel.outline.film
  const middle = selected?.startMs === undefined ? undefined : selected.startMs + (selected.ms ?? 0) / 2
  const shown = time ?? middle
  const here = shown === undefined ? -1 : Math.min(FRAMES - 1, Math.floor((shown / viewModel.ms) * FRAMES))
  return (
    <section aria-label="Filmstrip" className="shrink-0 border-t border-line bg-surface px-4 pt-1.5 pb-3">
      <CaseRunLanes viewModel={viewModel} time={time ?? momentOf(selected)} />
      <div className="flex justify-between text-[11px] text-soft">
        <span>{clock(0)}</span>
        <span>
          {viewModel.video
            ? 'drag the line: video, screens and log move together'
            : 'drag the line: screens and log move together'}
        </span>
        <span>{clock(viewModel.ms)}</span>
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
              aria-label={`Screen at ${clock(frame.screen.atMs)}, ${frame.words.verb} ${frame.words.object}`}
              className={
                'overflow-hidden border ' +
                `${i === here ? 'border-2 border-act' : 'border-line hover:border-faint'}`
              }
            >
              <EvidenceImage
                hash={frame.screen.hash}
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
      <TimeLine viewModel={viewModel} selected={selected} time={time} onSeek={onSeek} onSelect={onSelect} />
    </section>
  )
}

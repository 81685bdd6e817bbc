'use client'
import Link from '../base/Link'
import { endedOf, totalOf } from '@/core/execution'
import { plural, type BriefingPart, type NowViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button, buttonLook, Key } from '../base/Button'
import { Mark } from '../base/Mark'
import { MixBar, Tally } from '../base/MixBar'
import { Ago, clock } from '../base/Time'
import { openFinder } from '../frame/Finder'
import { useFrame } from '../frame/tools'
import { SeatTiles } from '../frame/SeatTiles'
import { Begin } from './Begin'

const TONES: Record<string, string> = {
  passed: 'text-passed-text decoration-passed/50',
  recovered: 'text-recovered-text decoration-recovered/50',
  failed: 'text-failed decoration-failed/50',
  errored: 'text-errored decoration-errored/50',
  running: 'text-running decoration-running/50',
  mark: 'bg-[linear-gradient(transparent_68%,var(--recovered-wash)_68%)] no-underline hover:underline',
}

/** The morning in sentences, what waits for a person, what runs. */
export function NowView({ initial, offset }: { initial: NowViewModel; offset: number }) {
  const { data = initial } = useViewModel<NowViewModel>(
    `/api/now?offset=${offset}`,
    ['run', 'fleet', 'defects', 'definitions', 'settings'],
    initial,
  )
  const { may, start } = useFrame()
  return (
    <>
      <section className="border-b border-line px-[18px] pt-3 pb-4">
        <div className="flex items-center gap-3">
          <h1>{data.greeting}</h1>
          <p className="flex-1 text-soft">{data.subtitle}</p>
          <Button onClick={openFinder}>
            Find anything <Key>Ctrl K</Key>
          </Button>
          {may('tester') && (
            <Button look="main" onClick={() => start()}>
              Start a run
            </Button>
          )}
        </div>
        <p className="mt-2.5 max-w-[1150px] font-display text-[19px] leading-[29px]" data-part="briefing">
          {data.briefing.map((part, i) => (
            <Part key={i} part={part} />
          ))}
        </p>
      </section>
      {data.begin && <Begin begin={data.begin} />}
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(420px,46fr)_54fr]">
        <section aria-label="Waiting for you" className="overflow-auto border-r border-line px-[18px] py-3">
          <h2 className="label mb-1">Waiting for you, most urgent first</h2>
          {data.waiting.length === 0 && <p className="py-4 text-soft">Nothing waits for you.</p>}
          <ul>
            {data.waiting.map((item) => (
              <li
                key={item.id}
                className="flex items-center gap-3.5 border-b border-line py-2.5 last:border-0"
              >
                <Mark mark={item.mark} silent />
                <div className="min-w-0 flex-1">
                  <div className="truncate font-semibold">{item.title}</div>
                  <div className="truncate text-sm text-soft">{item.why}</div>
                </div>
                <div className="flex flex-col items-end">
                  <Link href={item.href} className={buttonLook('plain')}>
                    {item.action}
                  </Link>
                  <span className="mt-0.5 text-[11px] text-soft">{item.area}</span>
                </div>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Running and lately" className="overflow-auto bg-surface px-4 py-3">
          <h2 className="label mb-1">Running</h2>
          {data.running.length === 0 && <p className="py-2 text-soft">Nothing runs at the moment.</p>}
          {data.running.map((run) => (
            <Running key={run.id} run={run} />
          ))}
          <h2 className="label mt-5 mb-1">Lately</h2>
          {data.lately.length === 0 && <p className="py-2 text-soft">No run has ended yet.</p>}
          <ul>
            {data.lately.map((run) => (
              <li key={run.id}>
                <Link
                  href={`/runs/${run.id}`}
                  className="grid grid-cols-[150px_78px_1fr_190px_84px] items-center gap-3 border-b border-line py-2 hover:bg-act-wash"
                >
                  <span className="truncate font-medium">{run.title}</span>
                  <span className="truncate font-mono text-xs text-soft">{run.build}</span>
                  <MixBar counts={run.counts} className="h-2" />
                  <Tally counts={run.counts} />
                  <span className="text-right text-xs text-soft">
                    {run.endedAt && <Ago at={run.endedAt} />}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </>
  )
}

function Part({ part }: { part: BriefingPart }) {
  if (!part.href) return <>{part.text}</>
  return (
    <Link
      href={part.href}
      className={
        'underline decoration-1 underline-offset-[5px] hover:decoration-2 ' +
        `${TONES[part.tone ?? ''] ?? 'decoration-faint'}`
      }
    >
      {part.text}
    </Link>
  )
}

function HowFar({ run }: { run: NowViewModel['running'][number] }) {
  if (run.state === 'cancelling') return 'being cancelled'
  if (run.paused) return 'paused'
  if (run.byHand) return 'by hand'
  if (run.waitingSeats) return 'waits for a free seat'
  if (!run.finish) return null
  return (
    <>
      ends about <b className="font-semibold text-ink">{clock(run.finish.p50)}</b>
    </>
  )
}

function Running({ run }: { run: NowViewModel['running'][number] }) {
  return (
    <article className="mb-4" aria-label={run.title}>
      <div className="flex items-baseline gap-2.5">
        <Link href={`/runs/${run.id}`} className="font-semibold hover:underline">
          {run.title}
        </Link>
        <span className="truncate text-soft">
          by {run.startedBy}, build {run.build}
        </span>
        <span className="ml-auto shrink-0 text-soft">
          <HowFar run={run} />
        </span>
      </div>
      <div className="mt-1.5 mb-2 flex items-center gap-3">
        <MixBar counts={run.counts} className="h-2.5" />
        <span className="shrink-0 text-sm text-soft">
          {endedOf(run.counts)} of {totalOf(run.counts)}
        </span>
      </div>
      <SeatTiles seats={run.seats} label={`Seats at work on ${run.title}`} />
      {run.seats.length === 0 && (
        <p className="text-sm text-soft">
          {plural(totalOf(run.counts) - endedOf(run.counts), 'case run')} to go.
        </p>
      )}
    </article>
  )
}

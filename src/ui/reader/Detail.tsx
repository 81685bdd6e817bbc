'use client'
import { FileDown } from 'lucide-react'
import Link from '../base/Link'
import { useState } from 'react'
import type { OutlineLine } from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { AttemptViewModel } from '@/core/view-models'
import { Button, Key } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { TakeMeThere } from '../live/TakeMeThere'
import { Pin } from './Pin'
import { SourceTree } from './SourceTree'
import { StepLog } from './StepLog'

type Props = {
  line: OutlineLine
  /** What there is of its console lines and requests beyond those it has. */
  more: number
  viewModel: AttemptViewModel
  good: AttemptViewModel | undefined
  goodLine: OutlineLine | undefined
  goodTitle: string
  onTakeAlong(): void
  onDraft?(): void
  /** Absent: there is nothing to adopt, or this person may not. */
  onAdopt?(): void
}

/** What this step did, what was expected, what came instead, and what the browser said meanwhile. */
export function Detail({
  line,
  more,
  viewModel,
  good,
  goodLine,
  goodTitle,
  onTakeAlong,
  onDraft,
  onAdopt,
}: Props) {
  const { failure, words } = line
  const [source, setSource] = useState(false)
  return (
    <section aria-label="Step" className="min-h-0 overflow-auto px-4 py-3">
      <h2 className="flex items-start gap-2">
        <Mark mark={line.mark} silent className="mt-[5px]" />
        <span className="first-letter:uppercase">
          {failure?.message ??
            ([words.verb, words.object].filter(Boolean).join(' ') || MARK_WORDS[line.mark])}
        </span>
      </h2>
      <p className="mt-0.5 text-sm text-soft">
        {failure && (
          <>
            {words.verb} {words.object}
            {words.detail && <span className="font-mono text-xs"> {words.detail}</span>},{' '}
          </>
        )}
        {MARK_WORDS[line.mark]}
        {line.ms !== undefined && ` after ${describeDuration(line.ms)}`}
        {line.startMs !== undefined && `, ${describeDuration(line.startMs)} into the attempt`}
        {line.note && line.recovery !== 'branch' && `; ${line.note}`}
        {line.recovery === 'put-right' && '; a recovery rule put it right'}
      </p>
      {line.recovery === 'branch' && line.note && <p className="mt-2 text-sm">{line.note}.</p>}
      {line.screenCheck && failure?.actual !== undefined && <p className="mt-2 text-sm">{failure.actual}.</p>}
      {failure && !line.screenCheck && (failure.expected !== undefined || failure.actual !== undefined) && (
        <Difference expected={failure.expected ?? ''} actual={failure.actual ?? ''} />
      )}
      {!failure && words.detail && <p className="mt-2 font-mono text-xs">{words.detail}</p>}
      {line.failing && (onDraft || onAdopt) && (
        <div className="mt-3 flex flex-wrap gap-2">
          {onDraft && (
            <Button look="main" keyHint="d" onClick={onDraft}>
              Draft a defect
            </Button>
          )}
          {onAdopt && (
            <Button keyHint="a" onClick={onAdopt}>
              Adopt what was found
            </Button>
          )}
        </div>
      )}
      {line.requests.length + line.console.length > 0 && (
        <StepLog key={line.path} attemptId={viewModel.id} line={line} more={more} />
      )}
      {(Object.keys(line.values).length > 0 || viewModel.row) && (
        <div className="mt-4">
          <h3 className="label mb-1">Values</h3>
          <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5 font-mono text-xs">
            {Object.entries({
              ...(viewModel.row
                ? Object.fromEntries(
                    Object.entries(viewModel.row.values).map(([name, value]) => [`row.${name}`, value]),
                  )
                : {}),
              ...line.values,
            }).map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name}</dt>
                <dd className="break-all">{value}</dd>
              </div>
            ))}
          </dl>
        </div>
      )}
      {goodLine && good && (
        <div className="mt-4">
          <h3 className="label mb-1">
            {good.id === viewModel.lastGood?.attemptId ? 'In the last good run' : 'In the other attempt'}
          </h3>
          <p className="text-sm">
            <Link
              href={`/attempts/${good.id}?step=${goodLine.path}`}
              className="underline decoration-faint underline-offset-2 hover:text-act"
            >
              {goodTitle}
            </Link>
            {good.id === viewModel.lastGood?.attemptId && (
              <>
                {' '}
                <Key>g</Key>
              </>
            )}
            : {MARK_WORDS[goodLine.mark]}
            {goodLine.ms !== undefined && ` in ${describeDuration(goodLine.ms)}`}
          </p>
        </div>
      )}
      <div className="mt-4">
        <h3 className="label mb-1">Where it ran</h3>
        <p className="text-sm text-soft">
          {Object.entries(viewModel.facts)
            .map(([name, value]) => `${name} ${value}`)
            .join(' · ') || 'not started'}
        </p>
        <p className="mt-1 flex flex-wrap items-center gap-2 text-sm">
          <Button look="quiet" className="!h-7 !px-2" keyHint="x" onClick={onTakeAlong}>
            <FileDown size={14} aria-hidden /> Take along
          </Button>
          <span className="text-soft">evidence document, zip, report</span>
        </p>
        <p className="mt-1">
          <TakeMeThere attempt={viewModel} line={line} />
        </p>
        <Pin attempt={viewModel} />
        {viewModel.source && (
          <p className="mt-1 text-sm">
            <button
              type="button"
              onClick={() => setSource(true)}
              className="underline decoration-faint underline-offset-2 hover:text-act"
            >
              Source of the page at the failure
            </button>
          </p>
        )}
      </div>
      {source && viewModel.source && (
        <SourceTree hash={viewModel.source} about={words.object} onClose={() => setSource(false)} />
      )}
    </section>
  )
}

/** Expected over actual, the part that differs marked. */
function Difference({ expected, actual }: { expected: string; actual: string }) {
  const [head, tail] = commonEnds(expected, actual)
  const row = (name: string, text: string, look: string, strong: string) => (
    <tr>
      <th scope="row" className="w-[90px] py-1 pr-3 text-left text-sm font-normal text-soft">
        {name}
      </th>
      <td className={`px-2 py-1 font-mono text-[13px] break-all ${look}`}>
        {text.slice(0, head)}
        <mark className={`bg-transparent font-bold text-inherit ${strong}`}>
          {text.slice(head, text.length - tail)}
        </mark>
        {text.slice(text.length - tail)}
        {text === '' && <span className="text-soft italic">empty</span>}
      </td>
    </tr>
  )
  return (
    <table className="mt-3 w-full border-separate border-spacing-y-px">
      <tbody>
        {row('expected', expected, 'bg-passed-wash', 'underline decoration-passed decoration-2')}
        {row('actual', actual, 'bg-failed-wash', 'underline decoration-failed decoration-2')}
      </tbody>
    </table>
  )
}

function commonEnds(a: string, b: string): [head: number, tail: number] {
  const most = Math.min(a.length, b.length)
  let head = 0
  while (head < most && a[head] === b[head]) head++
  let tail = 0
  while (tail < most - head && a[a.length - 1 - tail] === b[b.length - 1 - tail]) tail++
  return [head, tail]
}

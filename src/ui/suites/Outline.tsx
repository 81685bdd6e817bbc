'use client'
import Link from 'next/link'
import { describeDuration } from '@/core/model'
import { plural, type OutlineEntry, type PastMark, type SuiteSight } from '@/core/sights'
import { Mark, MARK_WORDS } from '../base/Mark'

type Props = { suite: SuiteSight; selected: string | null; onSelect(caseKey: string): void; onSuite(key: string): void }

/** The suite as it will run: nested, in order, each with its last outcomes and its time. */
export function Outline({ suite, selected, onSelect, onSuite }: Props) {
  return (
    <div>
      <ul aria-label={`Entries of ${suite.title}`}>
        {suite.outline.map((entry) => (
          <li key={entry.id} data-kind={entry.kind} className={`flex h-[36px] items-center gap-2.5 border-b border-line/70 pr-4 ${entry.caseKey && entry.caseKey === selected ? 'bg-act-wash' : 'hover:bg-act-wash/50'}`} style={{ paddingLeft: 18 + entry.depth * 18 }}>
            {entry.kind === 'case' ? <CaseEntry entry={entry} onSelect={onSelect} /> : <HeadEntry entry={entry} onSuite={onSuite} />}
            <span className={`w-[74px] shrink-0 text-right text-sm ${entry.off || entry.offAbove ? 'text-faint line-through' : 'text-soft'}`}>{describeDuration(entry.estimateMs)}</span>
          </li>
        ))}
      </ul>
      <p className="px-[18px] py-4 text-sm text-soft">
        {plural(suite.caseRuns, 'case run')} an environment will go in this order.
        {suite.leftOut.length > 0 && <> Left out: {suite.leftOut.map(({ title, why }, i) => <span key={i}>{i > 0 && ', '}<b className="font-semibold text-ink">{title}</b> ({why})</span>)}.</>}
      </p>
    </div>
  )
}

function HeadEntry({ entry, onSuite }: { entry: OutlineEntry; onSuite(key: string): void }) {
  const look = `truncate text-left font-semibold ${entry.off || entry.offAbove ? 'text-faint' : ''}`
  return (
    <span className="flex min-w-0 flex-1 items-center gap-2">
      {entry.suiteKey ? <button type="button" className={`${look} hover:underline`} onClick={() => onSuite(entry.suiteKey!)}>{entry.title}</button> : <span className={look}>{entry.title}</span>}
      {entry.suiteKey && <span className="chip">suite</span>}
    </span>
  )
}

function CaseEntry({ entry, onSelect }: { entry: OutlineEntry; onSelect(caseKey: string): void }) {
  const off = entry.off || entry.offAbove
  return (
    <>
      <span aria-hidden className={`size-[11px] shrink-0 rounded-[3px] ${off ? 'border border-faint' : 'bg-act'}`} />
      <span className="flex min-w-0 flex-1 items-center gap-2">
        <button type="button" onClick={() => onSelect(entry.caseKey!)} className={`truncate text-left hover:underline ${off ? 'text-soft' : ''}`}>{entry.title}</button>
        {off && <span className="chip">switched off</span>}
        {entry.rows > 0 && <span className="chip">{plural(entry.rows, 'row')}</span>}
        {entry.repeat > 1 && <span className="chip">× {entry.repeat}</span>}
        {entry.limitMs !== undefined && <span className="chip">limit {describeDuration(entry.limitMs)}</span>}
        {entry.uses.map((name) => <span key={name} className="chip">alone with {name}</span>)}
      </span>
      <LastMarks marks={entry.last} title={entry.title} />
    </>
  )
}

/** The last outcomes, oldest first; each leads to its attempt. */
export function LastMarks({ marks, title }: { marks: PastMark[]; title: string }) {
  return (
    <span className="flex w-[126px] shrink-0 items-center gap-[4px]" role="group" aria-label={`Last outcomes of ${title}`}>
      {marks.map(({ mark, attemptId }, i) => attemptId ? <Link key={i} href={`/attempts/${attemptId}`} aria-label={`${MARK_WORDS[mark]}, open`} className="leading-none"><Mark mark={mark} size={8} silent /></Link> : <Mark key={i} mark={mark} size={8} />)}
    </span>
  )
}

'use client'
import { Copy, PanelsTopLeft } from 'lucide-react'
import { memo } from 'react'
import { toast } from 'sonner'
import {
  isPageLine,
  type LineAnswer,
  type LineRow,
  type OutlineHead,
  type OutlineWindow,
} from '@/core/execution'
import { Button } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { FindBar, type Finding } from './FindBar'
import { LongList } from './LongList'
import { linesUrl, textUrl, useHits } from './useLog'

type Props = {
  attemptId: string
  head: OutlineHead
  /** Lines that came with the first drawing: of the whole log. */
  around?: OutlineWindow | undefined
  /** Path of the selected line, and its place among those that are shown. */
  selected: string | undefined
  place: Pick<LineAnswer, 'index' | 'previous' | 'next'> | undefined
  fold: boolean
  onFold(fold: boolean): void
  /** Ordered by the pages they were done on. */
  byPage: boolean
  onByPage(byPage: boolean): void
  onSelect(path: string): void
  position?: { index: number; of: number }
  finding: Finding
}
type Row = OutlineWindow['rows'][number]
const LINE_PX = 27

/** The outline of what happened; a bar at the left edge leads to each failure. */
export function Lines({
  attemptId,
  head,
  around,
  selected,
  place,
  fold,
  onFold,
  byPage,
  onByPage,
  onSelect,
  position,
  finding,
}: Props) {
  const narrowing = { fold, only: finding.only, byPage }
  const hits = useHits(attemptId, finding.text, narrowing, selected)
  const index = place?.index ?? -1
  const move = (by: 1 | -1, row: (index: number) => Row | undefined) => {
    const near = by > 0 ? place?.next : place?.previous
    const next = index < 0 ? row(0)?.path : near
    if (next !== undefined) onSelect(next)
  }
  const copy = () =>
    void fetch(textUrl(attemptId, narrowing))
      .then((answer) => answer.text())
      .then((text) => navigator.clipboard.writeText(text))
      .then(() => toast('Copied'))
  return (
    <section aria-label="Outline" className="flex min-h-0 flex-col border-r border-line bg-surface">
      <div className="flex items-center gap-1.5 border-b border-line px-4 py-1.5">
        <Button
          onClick={() => onFold(!fold)}
          aria-pressed={fold}
          disabled={head.onTheWay === 0}
          className={fold ? '!border-act' : ''}
        >
          Only the way to failures
        </Button>
        <Button
          look="quiet"
          onClick={() => onByPage(!byPage)}
          aria-pressed={byPage}
          aria-label="By page"
          hint="By the pages they were done on (o)"
          className={`!px-1.5 ${byPage ? '!bg-act-wash !text-ink' : ''}`}
        >
          <PanelsTopLeft size={14} />
        </Button>
        <Button
          look="quiet"
          onClick={copy}
          aria-label="Copy these lines as text"
          hint="Copy these lines as text"
          className="!px-1.5"
        >
          <Copy size={14} />
        </Button>
        {position && (
          <span className="ml-auto flex shrink-0 items-center gap-1 text-xs text-soft">
            <span className="sr-only">failure </span>
            {position.index} of {position.of}
          </span>
        )}
      </div>
      <FindBar finding={finding} hits={hits} verbs={head.verbs} onSelect={onSelect} />
      <LongList<Row>
        key={`${fold} ${byPage} ${finding.only ?? ''}`}
        label="Steps"
        rowPx={LINE_PX}
        urlOf={linesUrl(attemptId, narrowing, finding.text)}
        topics={[`attempt:${attemptId}`]}
        first={fold ? head.onTheWay : head.lines}
        known={!fold && !byPage && finding.only === null && finding.text === '' ? around : undefined}
        selected={selected}
        index={index}
        activeId={`line-${selected}`}
        onMove={move}
      >
        {(line, top) =>
          isPageLine(line) ? (
            <PageHead key={line.path} line={line} top={top} />
          ) : (
            <Step
              key={line.path}
              line={line}
              top={top}
              selected={line.path === selected}
              onSelect={onSelect}
            />
          )
        }
      </LongList>
    </section>
  )
}

/** A stay on a page, above what was done there. */
function PageHead({ line, top }: { line: Row; top: number }) {
  return (
    <div
      role="presentation"
      className="absolute right-0 left-0 flex items-center gap-2 border-t border-line bg-ground pr-4 pl-4 text-xs"
      style={{ top, height: LINE_PX }}
    >
      {line.onTheWay && <span aria-hidden className="absolute inset-y-0 left-0 w-1 bg-failed" />}
      <b className="shrink-0 font-semibold first-letter:uppercase">{line.words.verb}</b>
      <span className="min-w-0 flex-1 truncate font-mono text-[11px] text-soft">{line.words.detail}</span>
      <span className="shrink-0 font-mono text-[11px] text-soft">{((line.ms ?? 0) / 1000).toFixed(1)} s</span>
    </div>
  )
}

type StepProps = { line: Row; top: number; selected: boolean; onSelect(path: string): void }
/** While one scrolls only the lines that come in are drawn. */
const Step = memo(function StepLine({ line, top, selected, onSelect }: StepProps) {
  return (
    <div
      id={`line-${line.path}`}
      role="option"
      aria-selected={selected}
      data-path={line.path}
      data-state={line.mark}
      data-hit={line.isHit || undefined}
      onClick={() => onSelect(line.path)}
      className={
        'absolute right-0 left-0 flex items-center gap-2 pr-4 text-sm data-hit:bg-recovered-wash ' +
        `${selected ? '!bg-act-wash' : 'hover:bg-act-wash/60'}`
      }
      style={{ top, height: LINE_PX, paddingLeft: 16 + line.depth * 16 }}
    >
      {!line.onTheWay && (line.recovery || line.path.includes('!')) && (
        <span aria-hidden className="absolute inset-y-0 left-0 w-1 bg-recovered" />
      )}
      {line.onTheWay && <span aria-hidden className="absolute inset-y-0 left-0 w-1 bg-failed" />}
      <Mark mark={line.mark} size={10} silent />
      <span className="sr-only">{MARK_WORDS[line.mark]}</span>
      <Words line={line} />
      {line.ms !== undefined && line.mark !== 'skipped' && (
        <span className="shrink-0 font-mono text-[11px] text-soft">{(line.ms / 1000).toFixed(1)} s</span>
      )}
    </div>
  )
})

export function Words({ line }: { line: LineRow }) {
  const { verb, object, detail } = line.words
  const reached = line.mark !== 'skipped' && line.mark !== 'waiting'
  return (
    <span
      className={`min-w-0 flex-1 truncate ${line.failing ? 'font-semibold' : ''} ${reached ? '' : 'text-soft'}`}
    >
      {[line.path.startsWith('undo') && line.depth === 0 && 'undo:', verb, object].filter(Boolean).join(' ')}
      {detail && <span className="text-soft"> {detail}</span>}
    </span>
  )
}

'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { Copy } from 'lucide-react'
import { useEffect, useMemo, useRef } from 'react'
import { toast } from 'sonner'
import { linesOfKind, linesWith, outlineText, verbsIn, type OutlineLine } from '@/core/execution'
import { Button, Key } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { FindBar, type Finding } from './FindBar'

type Props = {
  lines: OutlineLine[]
  selected: string | undefined
  fold: boolean
  onFold(fold: boolean): void
  onSelect(line: OutlineLine): void
  position?: { index: number; of: number }
  finding: Finding
}
const LINE_PX = 27

/** The outline of what happened; a bar at the left edge leads to each failure. */
export function Lines({ lines, selected, fold, onFold, onSelect, position, finding }: Props) {
  const { text, only } = finding
  const shown = useMemo(
    () => linesOfKind(fold ? lines.filter((line) => line.onTheWay) : lines, only),
    [lines, fold, only],
  )
  const hits = useMemo(() => linesWith(shown, text), [shown, text])
  const isHit = useMemo(() => new Set(hits.map(({ path }) => path)), [hits])
  const verbs = useMemo(() => verbsIn(lines), [lines])
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    overscan: 15,
  })
  const index = shown.findIndex(({ path }) => path === selected)
  useEffect(() => {
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' })
    // A live attempt grows; only a new selection may scroll.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected])
  const move = (by: number) => {
    const next = shown[Math.max(0, Math.min(shown.length - 1, index + by))]
    if (next) onSelect(next)
  }
  return (
    <section aria-label="Outline" className="flex min-h-0 flex-col border-r border-line bg-surface">
      <div className="flex items-center gap-2 border-b border-line px-4 py-1.5">
        <Button
          onClick={() => onFold(!fold)}
          aria-pressed={fold}
          disabled={!lines.some(({ onTheWay }) => onTheWay)}
          className={fold ? '!border-act' : ''}
        >
          Only the way to failures
        </Button>
        <Button
          look="quiet"
          onClick={() => void navigator.clipboard.writeText(outlineText(shown)).then(() => toast('Copied'))}
          aria-label="Copy these lines as text"
          hint="Copy these lines as text"
          className="!px-1.5"
        >
          <Copy size={14} />
        </Button>
        {position && (
          <span className="ml-auto flex shrink-0 items-center gap-1 text-xs text-soft">
            <span className="sr-only">failure </span>
            {position.index} of {position.of} <Key>,</Key>
            <Key>.</Key>
          </span>
        )}
      </div>
      <FindBar
        finding={finding}
        hits={hits}
        at={hits.findIndex(({ path }) => path === selected)}
        verbs={verbs}
        onSelect={onSelect}
      />
      <div
        ref={scroller}
        role="listbox"
        aria-label="Steps"
        tabIndex={0}
        aria-activedescendant={index >= 0 ? `line-${selected}` : undefined}
        className="min-h-0 flex-1 overflow-auto focus-visible:-outline-offset-2"
        onKeyDown={(event) => {
          if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
          event.preventDefault()
          move(event.key === 'ArrowDown' ? 1 : -1)
        }}
      >
        <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index: i, start }) => {
            const line = shown[i]!
            return (
              <div
                key={line.path}
                id={`line-${line.path}`}
                role="option"
                aria-selected={line.path === selected}
                data-path={line.path}
                data-state={line.mark}
                data-hit={isHit.has(line.path) || undefined}
                onClick={() => onSelect(line)}
                className={`absolute right-0 left-0 flex items-center gap-2 pr-4 text-sm data-hit:bg-recovered-wash ${line.path === selected ? '!bg-act-wash' : 'hover:bg-act-wash/60'}`}
                style={{ top: start, height: LINE_PX, paddingLeft: 16 + line.depth * 16 }}
              >
                {!line.onTheWay && (line.recovery || line.path.includes('!')) && (
                  <span aria-hidden className="absolute inset-y-0 left-0 w-1 bg-recovered" />
                )}
                {line.onTheWay && <span aria-hidden className="absolute inset-y-0 left-0 w-1 bg-failed" />}
                <Mark mark={line.mark} size={10} silent />
                <span className="sr-only">{MARK_WORDS[line.mark]}</span>
                <Words line={line} />
                {line.ms !== undefined && line.mark !== 'skipped' && (
                  <span className="shrink-0 font-mono text-[11px] text-soft">
                    {(line.ms / 1000).toFixed(1)} s
                  </span>
                )}
              </div>
            )
          })}
        </div>
      </div>
    </section>
  )
}

export function Words({ line }: { line: OutlineLine }) {
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

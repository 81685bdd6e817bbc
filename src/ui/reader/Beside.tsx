'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef } from 'react'
import { differs, type AlignedRow, type OutlineLine } from '@/core/execution'
import { describeDuration } from '@/core/model'
import { Button } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Words } from './Lines'

const ROW_PX = 27
const COLUMNS = 'grid grid-cols-[1fr_1fr_150px] items-center gap-3'
const KIND_WORDS: Record<AlignedRow['kind'], string> = {
  same: '',
  changed: 'other value',
  moved: 'moved',
  added: 'only now',
  removed: 'only then',
}

type Props = {
  rows: readonly AlignedRow[]
  then: readonly OutlineLine[]
  now: readonly OutlineLine[]
  /** Path of the selected line of now. */
  selected: string | undefined
  onSelect(line: OutlineLine): void
  onClose(): void
  /** Chooses the attempt of then. */
  children: React.ReactNode
}

/** Two attempts step beside step: then on the left, now on the right. */
export function Beside({ rows, then, now, selected, onSelect, onClose, children }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 15,
  })
  const index = rows.findIndex((row) => row.now !== undefined && now[row.now]!.path === selected)
  useEffect(() => {
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' })
    // Only a new selection may scroll.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected])
  /** The next line of now; what was only then has none to select. */
  const move = (by: 1 | -1) => {
    for (let i = index + by; i >= 0 && i < rows.length; i += by) {
      const line = rows[i]!.now
      if (line !== undefined) return onSelect(now[line]!)
    }
  }
  const others = rows.filter((row) => differs(row, then, now)).length
  return (
    <section aria-label="Beside" className="flex min-h-0 flex-col border-b border-line bg-surface">
      <div className="flex items-center gap-3 border-b border-line px-4 py-1.5 text-sm">
        {children}
        <span className="text-soft">
          {others === 0 ? 'no step differs' : `${others} of ${rows.length} differ`}
        </span>
        <Button onClick={onClose} className="ml-auto" keyHint="c">
          This attempt alone
        </Button>
      </div>
      <div aria-hidden className={`${COLUMNS} border-b border-line py-0.5 pr-4 pl-5 text-xs text-soft`}>
        <span>Then</span>
        <span>Now</span>
      </div>
      <div
        ref={scroller}
        role="listbox"
        aria-label="Steps then and now"
        tabIndex={0}
        aria-activedescendant={index >= 0 ? `row-${selected}` : undefined}
        className="min-h-0 flex-1 overflow-auto focus-visible:-outline-offset-2"
        onKeyDown={(event) => {
          if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
          event.preventDefault()
          move(event.key === 'ArrowDown' ? 1 : -1)
        }}
      >
        <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index: i, start }) => (
            <Row
              key={i}
              top={start}
              row={rows[i]!}
              then={then[rows[i]!.good ?? -1]}
              now={now[rows[i]!.now ?? -1]}
              isOther={differs(rows[i]!, then, now)}
              isSelected={i === index}
              onSelect={onSelect}
            />
          ))}
        </div>
      </div>
    </section>
  )
}

type RowProps = {
  top: number
  row: AlignedRow
  then: OutlineLine | undefined
  now: OutlineLine | undefined
  isOther: boolean
  isSelected: boolean
  onSelect(line: OutlineLine): void
}

function Row({ top, row, then, now, isOther, isSelected, onSelect }: RowProps) {
  const [value] = row.values
  return (
    <div
      role="option"
      id={now && `row-${now.path}`}
      aria-selected={isSelected}
      data-kind={isOther && row.kind === 'same' ? 'outcome' : row.kind}
      onClick={() => now && onSelect(now)}
      className={`absolute right-0 left-0 ${COLUMNS} border-l-4 pr-4 text-sm ${isOther ? 'border-recovered' : 'border-transparent'} ${isSelected ? 'bg-act-wash' : 'hover:bg-act-wash/60'}`}
      style={{ top, height: ROW_PX }}
    >
      <Cell line={then} missing="not there then" />
      <Cell line={now} missing="not there now" />
      <span className="truncate text-right font-mono text-[11px] text-soft">
        {KIND_WORDS[row.kind] || (value && `${value.name}: ${value.was ?? 'none'} → ${value.is ?? 'none'}`)}
        {row.laterMs !== undefined &&
          ` ${row.laterMs > 0 ? '+' : '−'}${describeDuration(Math.abs(row.laterMs))}`}
      </span>
    </div>
  )
}

function Cell({ line, missing }: { line: OutlineLine | undefined; missing: string }) {
  if (!line) return <span className="pl-4 text-xs text-soft italic">{missing}</span>
  return (
    <span className="flex min-w-0 items-center gap-2" style={{ paddingLeft: 12 + line.depth * 12 }}>
      <Mark mark={line.mark} size={10} silent />
      <span className="sr-only">{MARK_WORDS[line.mark]}</span>
      <Words line={line} />
    </span>
  )
}

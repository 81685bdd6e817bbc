'use client'
import type { LineRow } from '@/core/execution'
import { describeDuration } from '@/core/model'
import type { BesideRow } from '@/core/view-models'
import { Button } from '../base/Button'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Words } from './Lines'
import { LongList } from './LongList'
import type { Compared } from './useCompared'
import { besideUrl } from './useLog'

const ROW_PX = 27
const COLUMNS = 'grid grid-cols-[1fr_1fr_150px] items-center gap-3'
const KIND_WORDS: Record<BesideRow['kind'], string> = {
  same: '',
  changed: 'other value',
  moved: 'moved',
  added: 'only now',
  removed: 'only then',
}

type Props = {
  attemptId: string
  compared: Pick<Compared, 'total' | 'differing' | 'place'> & { id: string }
  /** Path of the selected line of now. */
  selected: string | undefined
  onSelect(path: string): void
  onClose(): void
  /** Chooses the attempt of then. */
  children: React.ReactNode
}

/** Two attempts step beside step: then on the left, now on the right. */
export function Beside({ attemptId, compared, selected, onSelect, onClose, children }: Props) {
  const { differing, total, place } = compared
  const move = (by: 1 | -1) => {
    const next = by > 0 ? place.next : place.previous
    if (next !== undefined) onSelect(next)
  }
  return (
    <section aria-label="Beside" className="flex min-h-0 flex-col border-b border-line bg-surface">
      <div className="flex items-center gap-3 border-b border-line px-4 py-1.5 text-sm">
        {children}
        <span className="text-soft">
          {differing === 0 ? 'no step differs' : `${differing} of ${total} differ`}
        </span>
        <Button onClick={onClose} className="ml-auto" keyHint="c">
          This attempt alone
        </Button>
      </div>
      <div aria-hidden className={`${COLUMNS} border-b border-line py-0.5 pr-4 pl-5 text-xs text-soft`}>
        <span>Then</span>
        <span>Now</span>
      </div>
      <LongList<BesideRow>
        label="Steps then and now"
        rowPx={ROW_PX}
        urlOf={besideUrl(attemptId, compared.id)}
        topics={[`attempt:${attemptId}`]}
        first={total}
        selected={selected}
        index={place.index}
        activeId={`row-${selected}`}
        onMove={move}
      >
        {(row, top, i) => (
          <Row key={i} top={top} row={row} isSelected={i === place.index} onSelect={onSelect} />
        )}
      </LongList>
    </section>
  )
}

type RowProps = { top: number; row: BesideRow; isSelected: boolean; onSelect(path: string): void }

function Row({ top, row, isSelected, onSelect }: RowProps) {
  const { then, now, differs: isOther } = row
  const [value] = row.values
  return (
    <div
      role="option"
      id={now && `row-${now.path}`}
      aria-selected={isSelected}
      data-kind={isOther && row.kind === 'same' ? 'outcome' : row.kind}
      onClick={() => now && onSelect(now.path)}
      className={
        `absolute right-0 left-0 ${COLUMNS} border-l-4 pr-4 text-sm ` +
        `${isOther ? 'border-recovered' : 'border-transparent'} ` +
        `${isSelected ? 'bg-act-wash' : 'hover:bg-act-wash/60'}`
      }
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

function Cell({ line, missing }: { line: LineRow | undefined; missing: string }) {
  if (!line) return <span className="pl-4 text-xs text-soft italic">{missing}</span>
  return (
    <span className="flex min-w-0 items-center gap-2" style={{ paddingLeft: 12 + line.depth * 12 }}>
      <Mark mark={line.mark} size={10} silent />
      <span className="sr-only">{MARK_WORDS[line.mark]}</span>
      <Words line={line} />
    </span>
  )
}

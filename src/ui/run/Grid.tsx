'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { memo, useEffect, useMemo, useRef, type KeyboardEvent } from 'react'
import { describeDuration } from '@/core/model'
import type { GridCell, GridGroup, GridRow, RunViewModel } from '@/core/view-models'
import { Mark, MARK_WORDS } from '../base/Mark'
import { Simulated } from '../base/Parts'

type Props = {
  groups: GridGroup[]
  environments: RunViewModel['environments']
  selected: string | null
  onSelect(cell: string): void
  onOpen(attempt: string): void
}
type Line = { kind: 'group'; title: string } | { kind: 'row'; row: GridRow }

const ROW_PX = 26
/** The head stands in the scrolled area, above the rows: a row counts as in view only above this much from
 * the end. */
const HEAD_PX = 64
const MOVES: Record<string, [rows: number, columns: number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** Suite by environments, a mark a case run. Only what is in view is drawn. */
export function Grid({ groups, environments, selected, onSelect, onOpen }: Props) {
  const lines = useMemo<Line[]>(
    () =>
      groups.flatMap(({ title, rows }) => [
        ...(title ? [{ kind: 'group' as const, title }] : []),
        ...rows.map((row) => ({ kind: 'row' as const, row })),
      ]),
    [groups],
  )
  const longest = useMemo(
    () =>
      Math.max(
        1,
        ...groups.flatMap(({ rows }) =>
          rows.flatMap(({ cells }) => cells.map((cell) => cell?.durationMs ?? 0)),
        ),
      ),
    [groups],
  )
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    scrollPaddingEnd: HEAD_PX,
  })
  useEffect(() => {
    const line = lines.findIndex(
      (item) => item.kind === 'row' && item.row.cells.some((cell) => cell?.id === selected),
    )
    if (line >= 0) virtual.scrollToIndex(line, { align: 'auto' })
    // Only a new selection may move the grid, not every update of a live run.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected])

  const move = (event: KeyboardEvent) => {
    const by = MOVES[event.key]
    if (!by || event.ctrlKey || event.metaKey || event.altKey) return
    const rows = lines.flatMap((line) => (line.kind === 'row' ? [line.row] : []))
    const y = rows.findIndex((row) => row.cells.some((cell) => cell?.id === selected))
    const x = rows[y]?.cells.findIndex((cell) => cell?.id === selected) ?? 0
    const next = y < 0 ? rows[0]?.cells.find(Boolean) : rows[y + by[0]]?.cells[x + by[1]]
    event.preventDefault()
    if (!next) return
    onSelect(next.id)
    requestAnimationFrame(() =>
      scroller.current?.querySelector<HTMLElement>(`[data-cell="${next.id}"]`)?.focus(),
    )
  }
  const columns = `minmax(190px, 250px) repeat(${environments.length}, minmax(66px, 1fr))`
  if (lines.length === 0) return <p className="p-6 text-soft">Nothing of this run is of that kind.</p>
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Case runs by environment"
      aria-rowcount={lines.length + 1}
      aria-colcount={environments.length + 1}
      className="overflow-auto bg-surface"
      onKeyDown={move}
    >
      <div
        role="row"
        className="sticky top-0 z-10 grid border-b border-line bg-surface"
        style={{ gridTemplateColumns: columns }}
      >
        <span role="columnheader" className="px-[18px] pt-4 pb-1.5 text-xs text-soft">
          Suite, as it was frozen at the start
        </span>
        {environments.map(({ key, title, simulated }) => (
          <span
            key={key}
            role="columnheader"
            className="border-l border-line/70 px-1.5 py-1.5 text-[11px] leading-[14px] text-soft"
          >
            {title.split(', ').map((part) => (
              <span key={part} className="block truncate">
                {part}
              </span>
            ))}
            {simulated && <Simulated short />}
          </span>
        ))}
      </div>
      <div role="presentation" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const line = lines[index]!
          return (
            <div
              key={index}
              role="row"
              aria-rowindex={index + 2}
              className={
                'absolute right-0 left-0 grid border-b border-line/70 ' +
                `${line.kind === 'group' ? 'bg-ground' : ''}`
              }
              style={{ top: start, height: ROW_PX, gridTemplateColumns: columns }}
            >
              {line.kind === 'group' ? (
                <span
                  role="rowheader"
                  className="col-span-full truncate px-[18px] leading-[25px] font-semibold"
                >
                  {line.title}
                </span>
              ) : (
                <RowCells
                  row={line.row}
                  selected={
                    selected && line.row.cells.some((cell) => cell?.id === selected) ? selected : null
                  }
                  first={index <= 1}
                  longest={longest}
                  onSelect={onSelect}
                  onOpen={onOpen}
                />
              )}
            </div>
          )
        })}
      </div>
    </div>
  )
}

const RowCells = memo(function RowCells({
  row,
  selected,
  first,
  longest,
  onSelect,
  onOpen,
}: { row: GridRow; selected: string | null; first: boolean; longest: number } & Pick<
  Props,
  'onSelect' | 'onOpen'
>) {
  return (
    <>
      <span
        role="rowheader"
        className="flex min-w-0 gap-1.5 pr-2 pl-[30px] leading-[25px]"
        title={row.row ? `${row.title}, row ${row.row}` : row.title}
      >
        <span className="truncate">{row.title}</span>
        {row.row && (
          <span className="shrink-0 text-xs leading-[26px] text-soft">{row.row.replace(' of ', '/')}</span>
        )}
      </span>
      {row.cells.map((cell, i) =>
        cell ? (
          <Cell
            key={cell.id}
            cell={cell}
            title={row.title}
            selected={cell.id === selected}
            tabbable={cell.id === selected || (first && i === 0)}
            longest={longest}
            onSelect={onSelect}
            onOpen={onOpen}
          />
        ) : (
          <span key={i} role="gridcell" className="border-l border-line/70" />
        ),
      )}
    </>
  )
})

type CellProps = {
  cell: GridCell
  title: string
  selected: boolean
  tabbable: boolean
  longest: number
} & Pick<Props, 'onSelect' | 'onOpen'>
const RETRY_PIPS_MOST = 3

function Cell({ cell, title, selected, tabbable, longest, onSelect, onOpen }: CellProps) {
  const retries = Math.max(0, cell.attempts - 1)
  const words = [
    `${title}, ${cell.environment}: ${MARK_WORDS[cell.mark]}`,
    cell.durationMs !== null && describeDuration(cell.durationMs),
    retries > 0 && `tried ${cell.attempts} times`,
  ]
    .filter(Boolean)
    .join(', ')
  return (
    <span role="gridcell" aria-selected={selected} className="border-l border-line/70">
      <button
        type="button"
        data-cell={cell.id}
        tabIndex={tabbable ? 0 : -1}
        aria-label={words}
        title={cell.failure ? `${words}\n${cell.failure}` : words}
        onClick={() => onSelect(cell.id)}
        onDoubleClick={() => cell.attemptId && onOpen(cell.attemptId)}
        className={
          'flex h-[25px] w-full items-center gap-1.5 px-2 ' +
          `${selected ? 'bg-act-wash outline-2 -outline-offset-2 outline-act' : 'hover:bg-act-wash/60'}`
        }
      >
        <Mark mark={cell.mark} size={11} silent />
        {Array.from({ length: Math.min(retries, RETRY_PIPS_MOST) }, (_, i) => (
          <span key={i} className="size-[3.5px] rounded-full bg-soft" />
        ))}
        {cell.durationMs !== null && (
          <span
            className="ml-auto h-[3px] rounded bg-line"
            style={{ width: `${Math.max(6, (cell.durationMs / longest) * 46)}%` }}
          />
        )}
      </button>
    </span>
  )
}

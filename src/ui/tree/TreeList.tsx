'use client'
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
} from '@dnd-kit/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useId, useRef, useState } from 'react'
import { after, before, firstIn, isWithin, outermost, stepPlace, type Path, type Place } from '@/core/model'
import { TreeRowLine } from './TreeRowLine'
import type { TreeRow } from './rows'

type Props<R extends TreeRow> = {
  label: string
  rows: readonly R[]
  selected: readonly string[]
  onSelect(ids: string[]): void
  /** Absent: the tree can be read, not changed. */
  onMove?(paths: Path[], place: Place): void
  onOpen?(row: R): void
  children(row: R, state: { selected: boolean }): React.ReactNode
  /** Fills its place and scrolls by itself; without it, it is as tall as its lines. */
  scrolls?: boolean
}

const ROW_PX = 36
/** Moved to the right by this much, a line is dropped into another one instead of beside it. */
const INSIDE_PX = 24
/** From here on only what is seen is drawn. */
const DRAWN_MOST = 200

/** A tree of lines: chosen one by one or in ranges, moved by drag and by keys (Alt with the arrows), drawn in
 * a window when it is long. */
export function TreeList<R extends TreeRow>({
  label,
  rows,
  selected,
  onSelect,
  onMove,
  onOpen,
  children,
  scrolls = false,
}: Props<R>) {
  const tree = useId()
  const box = useRef<HTMLDivElement>(null)
  const anchor = useRef<string>(undefined)
  const [dragged, setDragged] = useState<string>()
  const [drop, setDrop] = useState<{ id: string; side: 'before' | 'after' | 'inside' }>()
  const windowed = scrolls && rows.length > DRAWN_MOST
  const virtual = useVirtualizer({
    count: windowed ? rows.length : 0,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    getItemKey: (i) => rows[i]!.id,
  })
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const chosen = new Set(selected)
  const active = selected.at(-1)
  const activeAt = rows.findIndex(({ id }) => id === active)
  useEffect(() => {
    if (windowed && activeAt >= 0) virtual.scrollToIndex(activeAt)
  }, [activeAt, windowed, virtual])

  const select = (id: string, { shiftKey = false, ctrlKey = false, metaKey = false }) => {
    if (shiftKey && anchor.current) {
      const [from, to] = [
        rows.findIndex((row) => row.id === anchor.current),
        rows.findIndex((row) => row.id === id),
      ].sort((a, b) => a - b)
      const range = rows.slice(from, to! + 1).map((row) => row.id)
      return onSelect([...range.filter((one) => one !== id), id])
    }
    anchor.current = id
    if (ctrlKey || metaKey)
      return onSelect(chosen.has(id) ? selected.filter((one) => one !== id) : [...selected, id])
    onSelect([id])
  }
  const movable = () => rows.filter((row) => chosen.has(row.id) && !row.fixed).map(({ path }) => path)

  const keys = (event: React.KeyboardEvent) => {
    if (event.target !== box.current) return
    const ways = { ArrowUp: 'up', ArrowDown: 'down', ArrowRight: 'in', ArrowLeft: 'out' } as const
    const way = ways[event.key as keyof typeof ways]
    if (way && event.altKey) {
      event.preventDefault()
      const paths = outermost(movable())
      const edge = way === 'down' ? paths.at(-1) : paths[0]
      const place =
        edge &&
        stepPlace(
          way,
          edge,
          rows.filter((row) => !row.fixed),
        )
      if (place && onMove) onMove(paths, place)
      return
    }
    if (event.altKey || event.ctrlKey || event.metaKey) {
      if (event.key === 'a' && !event.altKey) {
        event.preventDefault()
        onSelect(rows.filter((row) => !row.fixed).map((row) => row.id))
      }
      return
    }
    const step = {
      ArrowUp: -1,
      ArrowDown: 1,
      Home: -rows.length,
      End: rows.length,
      PageUp: -15,
      PageDown: 15,
    }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      const next = rows[Math.max(0, Math.min(rows.length - 1, (activeAt < 0 ? -1 : activeAt) + step))]
      if (next) select(next.id, { shiftKey: event.shiftKey })
      if (next && !windowed)
        document.getElementById(`${tree}-${next.id}`)?.scrollIntoView({ block: 'nearest' })
    }
    if (event.key === 'Enter' && activeAt >= 0) {
      event.preventDefault()
      onOpen?.(rows[activeAt]!)
    }
    if (event.key === 'Escape') onSelect([])
  }

  const start = ({ active: { id } }: DragStartEvent) => {
    setDragged(String(id))
    if (!chosen.has(String(id))) onSelect([String(id)])
  }
  const over = ({ over: target, active: { rect }, delta }: DragMoveEvent) => {
    const row = rows.find(({ id }) => id === target?.id)
    const moving = outermost(movable())
    if (!target || !row || row.fixed || moving.some((path) => isWithin(row.path, path)))
      return setDrop(undefined)
    const middle = rect.current.translated!.top + rect.current.translated!.height / 2
    const share = (middle - target.rect.top) / target.rect.height
    const isInside = row.holds !== undefined && (row.group ? share > 0.35 : delta.x > INSIDE_PX)
    const beside = share < 0.5 ? 'before' : 'after'
    setDrop({ id: row.id, side: isInside ? 'inside' : beside })
  }
  const ended = () => {
    setDragged(undefined)
    setDrop(undefined)
  }
  const end = (_: DragEndEvent) => {
    const row = rows.find(({ id }) => id === drop?.id)
    if (row && drop && onMove) {
      const beside = drop.side === 'before' ? before(row.path) : after(row.path)
      const inside = () => firstIn({ path: row.path, holds: row.holds! })
      onMove(outermost(movable()), drop.side === 'inside' ? inside() : beside)
    }
    ended()
  }

  const line = (row: R, style?: React.CSSProperties) => (
    <TreeRowLine
      key={row.id}
      row={row}
      id={`${tree}-${row.id}`}
      selected={chosen.has(row.id)}
      active={row.id === active}
      movable={onMove !== undefined && !row.fixed}
      drop={drop?.id === row.id ? drop.side : undefined}
      style={style}
      onClick={(event) => {
        select(row.id, event)
        if (!(event.target as HTMLElement).closest('input, select, textarea, button, a')) box.current?.focus()
      }}
      onDoubleClick={() => onOpen?.(row)}
    >
      {children(row, { selected: chosen.has(row.id) })}
    </TreeRowLine>
  )
  const moving = rows.find(({ id }) => id === dragged)
  return (
    <DndContext sensors={sensors} onDragStart={start} onDragMove={over} onDragEnd={end} onDragCancel={ended}>
      <div
        ref={box}
        role="tree"
        aria-label={label}
        aria-multiselectable
        tabIndex={0}
        aria-activedescendant={active === undefined ? undefined : `${tree}-${active}`}
        onKeyDown={keys}
        data-rows={rows.length}
        className={`outline-offset-[-2px] ${scrolls ? 'h-full overflow-auto' : ''}`}
      >
        {windowed ? (
          <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
            {virtual
              .getVirtualItems()
              .map((item) =>
                line(rows[item.index]!, { position: 'absolute', top: item.start, left: 0, right: 0 }),
              )}
          </div>
        ) : (
          rows.map((row) => line(row))
        )}
      </div>
      <DragOverlay dropAnimation={null}>
        {moving && (
          <div className="w-fit max-w-[420px] truncate rounded-oak border border-act bg-raised px-3 py-1.5 text-sm shadow-lg">
            {selected.length > 1 ? `${moving.title} and ${selected.length - 1} more` : moving.title}
          </div>
        )}
      </DragOverlay>
    </DndContext>
  )
}

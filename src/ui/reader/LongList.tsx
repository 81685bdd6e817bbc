'use client'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, useState, useSyncExternalStore } from 'react'
import { usePages, type Page } from './useLog'

type Props<R> = {
  label: string
  rowPx: number
  /** Address of the page that begins at an item. */
  urlOf: (from: number) => string
  topics: string[]
  /** How many items there are, until a page has told. */
  first: number
  /** A page that came with the first drawing. */
  known?: Page<R> | undefined
  /** What is selected, and its place; -1: it is none of these. */
  selected: string | undefined
  index: number
  /** Id of the element of what is selected. */
  activeId: string | undefined
  /** The arrow keys: one on, or one back. */
  onMove(by: 1 | -1, row: (index: number) => R | undefined): void
  children(row: R, top: number, index: number): React.ReactNode
}

/** How high the list is until it is measured: the server draws so much of it. */
const FIRST_PX = 560
const NEVER_CHANGES = () => () => {}

/** A list of any length to choose from: what is looked at is drawn, and asked for. */
export function LongList<R>({
  label,
  rowPx,
  urlOf,
  topics,
  first,
  known,
  selected,
  index,
  activeId,
  onMove,
  children,
}: Props<R>) {
  const scroller = useRef<HTMLDivElement>(null)
  const [count, setCount] = useState(first)
  const isLive = useSyncExternalStore(
    NEVER_CHANGES,
    () => true,
    () => false,
  )
  const [startPx] = useState(() => Math.max(0, index * rowPx - FIRST_PX / 2))
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowPx,
    overscan: 15,
    // drawing at once, within the scroll, makes each frame wait for it
    useFlushSync: false,
    initialRect: { width: 0, height: FIRST_PX },
    initialOffset: startPx,
  })
  const items = virtual.getVirtualItems()
  const { told, row } = usePages<R>(
    urlOf,
    items.map(({ index: i }) => i),
    topics,
    known,
  )
  useEffect(() => {
    if (told !== undefined) setCount(told)
  }, [told])
  useEffect(() => {
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' })
    // A live attempt grows; only a new selection may scroll.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [selected, index])
  // What is not drawn yet cannot be told to be the active one.
  const isDrawn = items.some(({ index: i }) => i === index) && row(index) !== undefined
  return (
    <div
      ref={scroller}
      role="listbox"
      aria-label={label}
      tabIndex={0}
      aria-activedescendant={isDrawn ? activeId : undefined}
      className="min-h-0 flex-1 overflow-auto focus-visible:-outline-offset-2"
      onKeyDown={(event) => {
        if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return
        event.preventDefault()
        onMove(event.key === 'ArrowDown' ? 1 : -1, row)
      }}
    >
      <div
        role="presentation"
        style={{
          height: virtual.getTotalSize(),
          position: 'relative',
          // A page that no script runs in yet cannot be scrolled to its place: it is drawn there.
          ...(!isLive && { marginTop: -startPx }),
        }}
      >
        {items.map(({ index: i, start }) => {
          const one = row(i)
          return one ? children(one, start, i) : <Coming key={i} top={start + rowPx / 3} />
        })}
      </div>
    </div>
  )
}

const Coming = ({ top }: { top: number }) => (
  <div aria-hidden className="absolute right-4 left-4 h-2 rounded bg-line/40" style={{ top }} />
)

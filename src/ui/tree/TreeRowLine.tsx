'use client'
import { useDraggable, useDroppable } from '@dnd-kit/core'
import { GripVertical } from 'lucide-react'
import type { TreeRow } from './rows'

type Props = {
  row: TreeRow
  id: string
  selected: boolean
  active: boolean
  movable: boolean
  drop: 'before' | 'after' | 'inside' | undefined
  style: React.CSSProperties | undefined
  onClick(event: React.MouseEvent): void
  onDoubleClick(): void
  children: React.ReactNode
}
const DROP = {
  before: 'shadow-[inset_0_2px_0_var(--act)]',
  after: 'shadow-[inset_0_-2px_0_var(--act)]',
  inside: 'bg-act-wash outline outline-2 -outline-offset-2 outline-act',
}
const INDENT_PX = 18

/** A line of a tree, with its handle to drag it by. */
export function TreeRowLine({
  row,
  id,
  selected,
  active,
  movable,
  drop,
  style,
  onClick,
  onDoubleClick,
  children,
}: Props) {
  const { setNodeRef: dropRef } = useDroppable({ id: row.id, disabled: row.fixed ?? false })
  const { setNodeRef: dragRef, listeners } = useDraggable({ id: row.id, disabled: !movable })
  return (
    <div
      ref={(node) => {
        dropRef(node)
        dragRef(node)
      }}
      id={id}
      role="treeitem"
      aria-level={row.depth + 1}
      aria-selected={selected}
      style={{ ...style, paddingLeft: 4 + row.depth * INDENT_PX }}
      onClick={onClick}
      onDoubleClick={onDoubleClick}
      className={
        'group flex min-h-[36px] items-center border-b border-line/70 pr-3 ' +
        `${selected ? 'bg-act-wash' : 'hover:bg-act-wash/40'} ` +
        `${active ? 'shadow-[inset_2px_0_0_var(--act)]' : ''} ${drop ? DROP[drop] : ''}`
      }
    >
      <span
        {...(movable ? listeners : {})}
        aria-hidden
        className={
          'grid w-5 shrink-0 place-items-center text-faint ' +
          `${movable ? 'cursor-grab opacity-0 group-hover:opacity-100' : 'opacity-0'}`
        }
      >
        <GripVertical size={14} />
      </span>
      {children}
    </div>
  )
}

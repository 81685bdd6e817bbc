'use client'
import {
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type RowData,
  type SortingState,
} from '@tanstack/react-table'
import { useMemo, useState } from 'react'

/** What a row is sorted by; `null` comes last, whichever way. */
type SortValue = string | number | null

export type Column<R> = {
  head: string
  cell(row: R): React.ReactNode
  /** What to sort by; without it nobody can sort by this column. */
  by?(row: R): SortValue
  /** `name`: what rows are called by, read out with each of their cells. `do`: buttons; only screen readers
   * are told its head. */
  as?: 'name' | 'do'
  /** Classes of its cells. */
  look?: string
  /** A class, of a table whose columns have set widths. */
  width?: string
}

const features = tableFeatures({ rowSortingFeature, sortedRowModel: createSortedRowModel() })
const inWords = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })
const compare = (a: SortValue, b: SortValue) =>
  typeof a === 'number' && typeof b === 'number' ? a - b : inWords.compare(String(a), String(b))

/** Rows in columns. A click on a head sorts, a second one turns the order round, a third one gives back the
 * order the rows came in.
 * @param label what the rows are
 * @param columns the same array while nothing of them changes
 * @param rowLook classes of a row
 * @param onChoose rows can be chosen, by a click anywhere in them; a button in the cell is for keys
 * @param order what they are sorted by, where somebody else keeps that and gives rows in it (`inOrder`): the
 * head of a column, with a minus before it the other way round; empty: the order they came in */
export function Table<R extends RowData>({
  label,
  rows,
  columns,
  keyOf,
  rowLook,
  isChosen,
  onChoose,
  order,
  onOrder,
  className = '',
}: {
  label: string
  rows: readonly R[]
  columns: readonly Column<R>[]
  keyOf(row: R): string | number
  rowLook?(row: R): string
  isChosen?(row: R): boolean
  onChoose?(row: R): void
  order?: string
  onOrder?(order: string): void
  className?: string
}) {
  const [own, setOwn] = useState<SortingState>([])
  const sorting = order === undefined ? own : sortingOf(order, columns)
  const sort = (change: SortingState | ((now: SortingState) => SortingState)) => {
    const next = typeof change === 'function' ? change(sorting) : change
    if (order === undefined) setOwn(next)
    onOrder?.(orderOf(next, columns))
  }
  const defs = useMemo(() => columns.map(defOf), [columns])
  const table = useTable({
    features,
    columns: defs,
    data: rows,
    getRowId: (row) => String(keyOf(row)),
    state: { sorting },
    onSortingChange: sort,
    manualSorting: order !== undefined,
    sortDescFirst: false,
  })
  return (
    <table aria-label={label} className={`w-full text-sm ${className}`}>
      <thead>
        <tr className="border-b border-line">
          {columns.map((column, i) => {
            const sortable = table.getColumn(String(i))!
            return (
              <Head
                key={column.head}
                column={column}
                sorted={sortable.getIsSorted()}
                onSort={() => sortable.toggleSorting()}
              />
            )
          })}
        </tr>
      </thead>
      <tbody className="divide-y divide-line">
        {table.getRowModel().rows.map(({ id, original }) => (
          <tr
            key={id}
            {...(isChosen && { 'aria-selected': isChosen(original) })}
            {...(onChoose && { onClick: () => onChoose(original) })}
            className={rowLook?.(original)}
          >
            {columns.map((column) => (
              <Cell key={column.head} column={column} row={original} />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Rows as a table with that `order` shows them: what is not there comes last, whichever way. */
export function inOrder<R>(rows: readonly R[], columns: readonly Column<R>[], order: string): readonly R[] {
  const [sorting] = sortingOf(order, columns)
  const by = sorting && columns[Number(sorting.id)]!.by
  if (!sorting || !by) return rows
  const turned = sorting.desc ? -1 : 1
  return rows.toSorted((one, other) => {
    const [a, b] = [by(one), by(other)]
    if (a === null || b === null) return Number(a === null) - Number(b === null)
    return turned * compare(a, b)
  })
}

type Headed = readonly { head: string }[]
function sortingOf(order: string, columns: Headed): SortingState {
  const desc = order.startsWith('-')
  const at = columns.findIndex(({ head }) => head === (desc ? order.slice(1) : order))
  return at < 0 ? [] : [{ id: String(at), desc }]
}
const orderOf = ([by]: SortingState, columns: Headed): string =>
  by ? `${by.desc ? '-' : ''}${columns[Number(by.id)]!.head}` : ''

const defOf = <R extends RowData>({ by }: Column<R>, i: number): ColumnDef<typeof features, R> => ({
  id: String(i),
  accessorFn: (row) => by?.(row) ?? undefined,
  enableSorting: by !== undefined,
  sortUndefined: 'last',
  sortFn: (a, b, id) => compare(a.getValue(id), b.getValue(id)),
})

const ORDERS = { asc: 'ascending', desc: 'descending' } as const

function Head<R>({
  column: { head, by, as, width = '' },
  sorted,
  onSort,
}: {
  column: Column<R>
  sorted: false | 'asc' | 'desc'
  onSort(): void
}) {
  return (
    <th
      scope="col"
      aria-sort={sorted ? ORDERS[sorted] : undefined}
      className={`label py-1.5 pr-4 text-left ${width}`}
    >
      {as === 'do' && <span className="sr-only">{head}</span>}
      {as !== 'do' && !by && head}
      {by && (
        <button type="button" className="hover:text-ink" onClick={onSort}>
          {head}
          {sorted && <span aria-hidden> {sorted === 'asc' ? '↑' : '↓'}</span>}
        </button>
      )}
    </th>
  )
}

function Cell<R>({ column: { as, cell, look = '' }, row }: { column: Column<R>; row: R }) {
  const className = `py-2 pr-4 align-baseline ${look}`
  if (as === 'name')
    return (
      <th scope="row" className={`text-left font-normal ${className}`}>
        {cell(row)}
      </th>
    )
  return (
    <td className={as === 'do' ? `py-1 text-right align-baseline whitespace-nowrap ${look}` : className}>
      {cell(row)}
    </td>
  )
}

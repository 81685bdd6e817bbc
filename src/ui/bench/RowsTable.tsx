'use client'
import { Plus, Trash2, Upload } from 'lucide-react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { DataSet } from '@/core/model'
import {
  columnChars,
  parseDataSet,
  pasteCells,
  withCell,
  withColumn,
  withoutColumn,
  withoutRow,
  withRow,
  writeDataSet,
  type Cells,
} from '@/core/model/editing'
import { plural } from '@/core/view-models'
import { Button } from '../base/Button'
import { submitting } from '../base/submitting'

type Table = Pick<DataSet, 'key' | 'columns' | 'rows'>
type Props = { table: Table; editable: boolean; onChange(source: string): void; missing?: readonly string[] }

/** From here on only the rows that are seen are drawn. */
const ROWS_DRAWN_MOST = 200
const ROW_PX = 29
/** Rows of data as a table: written into, pasted into from a spreadsheet, taken over from a CSV or XLSX
 * file. */
export function RowsTable({ table, editable, onChange, missing = [] }: Props) {
  const [column, setColumn] = useState('')
  const file = useRef<HTMLInputElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const windowed = table.rows.length > ROWS_DRAWN_MOST
  const virtual = useVirtualizer({
    count: windowed ? table.rows.length : 0,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_PX,
    overscan: 10,
  })
  const drawn = windowed ? virtual.getVirtualItems().map(({ index }) => index) : table.rows.map((_, i) => i)
  const [above, below] = windowed
    ? [
        virtual.getVirtualItems()[0]?.start ?? 0,
        virtual.getTotalSize() - (virtual.getVirtualItems().at(-1)?.end ?? 0),
      ]
    : [0, 0]
  const widths = useMemo(() => columnChars(table), [table])
  const put = (next: Cells) => onChange(writeDataSet({ key: table.key, ...next }))
  const addColumn = (name: string) => {
    if (name === '') return
    const next = withColumn(table, name)
    if (!next) return void toast.error(`There is a column “${name}” already`)
    put(next)
    setColumn('')
  }
  const paste = (event: React.ClipboardEvent, at: number, from: number) => {
    const done = pasteCells(table, at, from, event.clipboardData.getData('text/plain'))
    if (!done) return
    event.preventDefault()
    put(done.table)
    const fresh = done.added.length > 0 ? `; new: ${done.added.join(', ')}` : ''
    toast(`${plural(done.pasted, 'row')} pasted${fresh}`)
  }
  const take = async (given: File | undefined) => {
    if (!given) return
    const read = await readTableFile(given).catch((error: Error) => error.message)
    if (typeof read === 'string') return void toast.error(`${given.name}: ${read}. Nothing was changed.`)
    put(read)
    const lost = table.columns.filter((name) => !read.columns.includes(name))
    toast(
      `${plural(read.rows.length, 'row')} from ` +
        `${given.name}${lost.length > 0 ? `; without the columns ${lost.join(', ')}` : ''}`,
    )
  }
  return (
    <section aria-label={`Rows of ${table.key}`} className="px-[18px] py-3">
      {missing.length > 0 && (
        <p role="alert" className="mb-2 text-sm text-failed">
          The steps use {missing.map((name) => `row.${name}`).join(', ')}, which this table has no column for.
        </p>
      )}
      <div ref={box} className={windowed ? 'max-h-[64vh] overflow-auto' : 'overflow-x-auto'}>
        <table className="border-collapse text-sm" aria-rowcount={table.rows.length + 1}>
          <thead>
            <tr className="text-left text-soft">
              <th className="pr-2 font-normal">row</th>
              {table.columns.map((name) => (
                <th key={name} className="border border-line bg-surface px-2 py-1 font-semibold text-ink">
                  {name}
                  {editable && (
                    <button
                      type="button"
                      aria-label={`Take the column ${name} out`}
                      className="ml-2 align-middle text-faint hover:text-failed"
                      onClick={() => put(withoutColumn(table, name))}
                    >
                      <Trash2 size={12} aria-hidden />
                    </button>
                  )}
                </th>
              ))}
              {editable && (
                <th className="pl-2">
                  <form className="flex gap-1" onSubmit={submitting(() => addColumn(column.trim()))}>
                    <input
                      aria-label="New column"
                      placeholder="new column"
                      value={column}
                      onChange={({ target }) => setColumn(target.value)}
                      className="h-[26px] w-28 rounded-oak border border-dashed border-line bg-transparent px-2 font-normal"
                    />
                  </form>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {above > 0 && <tr aria-hidden style={{ height: above }} />}
            {drawn
              .map((i) => [i, table.rows[i]!] as const)
              .map(([i, row]) => (
                <tr key={i} className="group">
                  <td className="pr-2 text-right text-soft">{i + 1}</td>
                  {table.columns.map((name, j) => (
                    <td key={name} className="border border-line p-0">
                      <Cell
                        width={`${widths[j]!}ch`}
                        label={`${name}, row ${i + 1}`}
                        value={row[name] ?? ''}
                        editable={editable}
                        onCommit={(value) => put(withCell(table, i, name, value))}
                        onPaste={(event) => paste(event, i, j)}
                      />
                    </td>
                  ))}
                  {editable && (
                    <td className="pl-2">
                      <button
                        type="button"
                        aria-label={`Take row ${i + 1} out`}
                        className="text-faint opacity-0 group-hover:opacity-100 hover:text-failed focus-visible:opacity-100"
                        onClick={() => put(withoutRow(table, i))}
                      >
                        <Trash2 size={13} aria-hidden />
                      </button>
                    </td>
                  )}
                </tr>
              ))}
            {below > 0 && <tr aria-hidden style={{ height: below }} />}
          </tbody>
        </table>
      </div>
      {editable && (
        <div className="mt-2 flex gap-2">
          <Button onClick={() => put(withRow(table))}>
            <Plus size={14} aria-hidden />
            Row
          </Button>
          <Button onClick={() => file.current?.click()}>
            <Upload size={14} aria-hidden />
            From a CSV or XLSX file
          </Button>
          <input
            ref={file}
            type="file"
            accept=".csv,.xlsx,.json"
            aria-label="CSV or XLSX file"
            className="sr-only"
            tabIndex={-1}
            onChange={({ target }) => {
              void take(target.files?.[0])
              target.value = ''
            }}
          />
        </div>
      )}
    </section>
  )
}

function Cell({
  width,
  label,
  value,
  editable,
  onCommit,
  onPaste,
}: {
  width: string
  label: string
  value: string
  editable: boolean
  onCommit(value: string): void
  onPaste(event: React.ClipboardEvent): void
}) {
  const [written, setWritten] = useState(value)
  const [from, setFrom] = useState(value)
  if (from !== value) {
    setFrom(value)
    setWritten(value)
  }
  const commit = () => written !== value && onCommit(written)
  return (
    <input
      aria-label={label}
      readOnly={!editable}
      value={written}
      onChange={({ target }) => setWritten(target.value)}
      onBlur={commit}
      onPaste={onPaste}
      onKeyDown={({ key }) => key === 'Enter' && commit()}
      style={{ width }}
      className="h-[28px] bg-transparent px-2 font-mono text-xs focus:bg-raised"
    />
  )
}

/** A table out of a file of a spreadsheet program or a list. @throws with the reason as its message */
async function readTableFile(file: File): Promise<Pick<DataSet, 'columns' | 'rows'>> {
  if (file.name.endsWith('.xlsx')) {
    const { readSheet } = await import('read-excel-file/browser')
    const [header = [], ...body] = await readSheet(file)
    const columns = header.map((cell) => String(cell ?? '').trim())
    if (columns.some((name) => name === '')) throw new Error('its first row has to name every column')
    const text = (cell: unknown) => {
      if (cell === null || cell === undefined) return ''
      return cell instanceof Date ? cell.toISOString().slice(0, 10) : String(cell)
    }
    return {
      columns,
      rows: body.map((cells) => Object.fromEntries(columns.map((name, i) => [name, text(cells[i])]))),
    }
  }
  const { definition, problems } = parseDataSet(file.name, await file.text())
  if (!definition) throw new Error(`line ${problems[0]!.line}: ${problems[0]!.message}`)
  return definition
}

'use client'
import { Button } from '../base/Button'
import { Select } from '../base/fields'
import { Committed } from '../bench/Committed'

/** A longer table is gone through with “Next row”. */
const ROWS_SHOWN = 500

/** What steps can refer to at this moment; what was given or read may be changed, for steps that follow. */
export function Values({
  values,
  rows,
  row,
  editable,
  onSet,
  onRow,
}: {
  values: Readonly<Record<string, string>>
  /** How many rows the table of the case has, and which of them the steps have now. */
  rows: number
  row: number
  editable: boolean
  onSet(name: string, value: string): void
  onRow(index: number): void
}) {
  const all = Object.entries(values)
  if (all.length === 0 && rows === 0) return null
  return (
    <section aria-label="Values here" className="border-b border-line px-[14px] py-3">
      <div className="mb-1 flex items-center gap-2">
        <h2 className="label">Values here</h2>
        {rows > 1 && (
          <span className="ml-auto flex items-center gap-1">
            <Select
              aria-label="Row"
              value={String(row)}
              disabled={!editable}
              onChoose={(index) => onRow(Number(index))}
            >
              {Array.from({ length: Math.min(rows, ROWS_SHOWN) }, (_, i) => (
                <option key={i} value={String(i + 1)}>
                  row {i + 1} of {rows}
                </option>
              ))}
            </Select>
            <Button look="quiet" disabled={!editable || row >= rows} onClick={() => onRow(row + 1)}>
              Next row
            </Button>
          </span>
        )}
      </div>
      <dl className="grid grid-cols-[minmax(0,auto)_1fr] items-center gap-x-2 gap-y-0.5 font-mono text-xs">
        {all.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="truncate text-soft">{name}</dt>
            <dd className="min-w-0">
              {editable && !name.startsWith('row.') ? (
                <Committed label={`Value of ${name}`} value={value} onCommit={(text) => onSet(name, text)} />
              ) : (
                <span className="block truncate">{value}</span>
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  )
}

'use client'
import { toast } from 'sonner'
import { columnsOf, type TestCase } from '@/core/model'
import { writeDataSet } from '@/core/model/editing'
import { api } from '../api'
import { useAsking } from '../asking'
import { Button } from '../base/Button'

/** Makes a table for a case that has none, with a column for each row value its steps name.
 * @param onBegun is given the name of the table */
export function BeginTable({
  testCase,
  taken,
  onBegun,
}: {
  testCase: TestCase
  taken: readonly string[]
  onBegun(name: string): void
}) {
  const { busy, ask } = useAsking()
  const name = freeName(testCase.key, taken)
  const begin = async () => {
    const columns = [...new Set(columnsOf(testCase))]
    const source = writeDataSet({ key: name, columns: columns.length > 0 ? columns : ['name'], rows: [] })
    try {
      await api(`/api/definitions/data/${encodeURIComponent(name)}`, {
        method: 'PUT',
        body: { source, basedOn: 0 },
      })
      onBegun(name)
    } catch (error) {
      toast.error((error as Error).message)
    }
  }
  return (
    <Button type="button" disabled={busy} onClick={() => void ask(begin)}>
      Begin rows
    </Button>
  )
}

/** "board.csv", or the next that is free. */
function freeName(key: string, taken: readonly string[]): string {
  for (let n = 1; ; n++) {
    const name = n === 1 ? `${key}.csv` : `${key}-${n}.csv`
    if (!taken.includes(name)) return name
  }
}

/** A column more in the table of a case; in its first table, where it has none. */
import type { Row } from '@/core/model'
import { writeDataSet } from '@/core/model/editing'
import { definitionRow } from '@/db/definitions'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { saveDefinition } from './save'

export const columnBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'value'],
  properties: {
    name: { type: 'string', pattern: '^[A-Za-z_][A-Za-z0-9_]{0,59}$' },
    value: { type: 'string', maxLength: 2000 },
  },
})

/** Each row has the value at first. @returns name of the table: a new one is the case's own once its text
 * says so. @throws {Problem} NOT_FOUND, COLUMN_TAKEN, those of saving */
export async function addColumn(
  ctx: Context,
  caseKey: string,
  { name, value }: BodyOf<typeof columnBody>,
  who: string,
): Promise<{ table: string }> {
  const testCase = await definitionRow(ctx.db, 'case', caseKey)
  if (testCase?.document.kind !== 'case') throw new Problem('NOT_FOUND')
  const key = testCase.document.data ?? `${caseKey}.csv`
  const row = await definitionRow(ctx.db, 'data', key)
  const table =
    row?.document.kind === 'data' ? row.document : { columns: [] as string[], rows: [{}] as Row[] }
  if (table.columns.includes(name))
    throw new Problem('COLUMN_TAKEN', `The table ${key} has a column “${name}” already.`)
  const source = writeDataSet({
    key,
    columns: [...table.columns, name],
    rows: table.rows.map((one) => ({ ...one, [name]: value })),
  })
  await saveDefinition(ctx, 'data', key, { source, basedOn: row?.version ?? 0 }, who)
  return { table: key }
}

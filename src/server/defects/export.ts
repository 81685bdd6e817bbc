/** Defects as a table to take along: those that a filter lets through. */
import { csvOfCells, markdownOfCells } from '@/core/formats'
import { CELL_CHARS } from '@/core/reports'
import { defectCells, defectsThatFit, type DefectFilter } from '@/core/view-models'
import { listDefects } from '@/db/defects'
import type { Context } from '../context'
import { asWorkbook } from '../reports/formats'
import { asFile } from '../reports/reporting'

/** Of more, the newest. */
const EXPORTED_MOST = 5000

/** @param given of an address: `as` (csv, xlsx, md) and what `DefectFilter` names */
export async function serveDefects(ctx: Pick<Context, 'db'>, given: URLSearchParams): Promise<Response> {
  const text = (name: keyof DefectFilter) => (given.get(name) ?? '').slice(0, 200)
  const filter = {
    words: text('words'),
    place: text('place'),
    severity: text('severity'),
    build: text('build'),
  }
  const cells = defectCells(defectsThatFit(await listDefects(ctx.db, EXPORTED_MOST), filter))
  const as = given.get('as')
  if (as === 'md') return asFile(markdownOfCells(cells), 'text/markdown; charset=utf-8', 'defects.md')
  if (as !== 'xlsx') return asFile(csvOfCells(cells), 'text/csv; charset=utf-8', 'defects.csv')
  const rows = cells.map((row) => row.map((cell) => cell.slice(0, CELL_CHARS)))
  return asWorkbook([{ name: 'Defects', rows }], 'defects.xlsx')
}

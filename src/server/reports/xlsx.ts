/** A run as a workbook: a sheet of the run, and one with a row for each case run. */
import writeXlsx, { type SheetData } from 'write-excel-file/node'
import { sheetsOf, type RunReport } from '@/core/reports'

/** Every text is a text: nothing in it is a formula. */
export const xlsxOf = (report: RunReport): Promise<Buffer> =>
  writeXlsx(
    sheetsOf(report).map(({ name, rows }) => ({
      sheet: name,
      data: rows.map((row, i) =>
        row.map((value) => ({
          value: value ?? '',
          type: typeof value === 'number' ? Number : String,
          ...(i === 0 && { fontWeight: 'bold' as const }),
        })),
      ) as SheetData,
      stickyRowsCount: 1,
    })),
  ).toBuffer()

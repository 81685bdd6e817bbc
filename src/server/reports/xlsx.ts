import writeXlsx, { type SheetData } from 'write-excel-file/node'

/** The first row of each names its columns. */
export type Sheets = readonly { name: string; rows: (string | number | null)[][] }[]

/** As a workbook. Every text is a text: nothing in it is a formula. */
export const xlsxOf = (sheets: Sheets): Promise<Buffer> =>
  writeXlsx(
    sheets.map(({ name, rows }) => ({
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

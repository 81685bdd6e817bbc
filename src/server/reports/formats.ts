/** What reports are written as, whatever they are of. */
import { NotPrinted, printPdf } from '@/node/print-pdf'
import { Problem } from '../http/problems'
import { Gate } from '../work'
import { asFile, reporting } from './reporting'
import { xlsxOf, type Sheets } from './xlsx'

const TYPES = {
  html: 'text/html; charset=utf-8',
  pdf: 'application/pdf',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  csv: 'text/csv; charset=utf-8',
  xml: 'application/xml; charset=utf-8',
  json: 'application/json; charset=utf-8',
} as const
export const REPORT_FORMATS = Object.keys(TYPES) as ReportFormat[]
export type ReportFormat = keyof typeof TYPES

/** A workbook to be saved. */
export const asWorkbook = async (sheets: Sheets, name: string): Promise<Response> =>
  asFile(await xlsxOf(sheets), TYPES.xlsx, name)

/** A report, and how it is written. */
export type Writable = {
  html(): string | Promise<string>
  csv(): string
  junit(): string
  json(): unknown
  sheets(): Sheets
}
export type WrittenReport = { content: string | Uint8Array; type: string; format: ReportFormat }

/** A browser takes 200 MB: one at once, and few wait for it. */
const printing = new Gate(1, 10)

/** @throws {Problem} BODY_INVALID: there is no such format */
export function requireFormat(as: string): ReportFormat {
  const format = REPORT_FORMATS.find((one) => one === as)
  if (!format) throw new Problem('BODY_INVALID', `A report is one of: ${REPORT_FORMATS.join(', ')}.`)
  return format
}

/** @throws {Problem} NOT_PRINTED; BUSY, or what reading the report throws */
export const writtenAs = (
  format: ReportFormat,
  report: () => Writable | Promise<Writable>,
): Promise<WrittenReport> =>
  reporting.through(async () => ({
    content: await contentOf(format, await report()),
    type: TYPES[format],
    format,
  }))

/** @param as one of REPORT_FORMATS @param name of the file, without its ending
 * @throws {Problem} as `requireFormat` and `writtenAs` */
export async function serveReport(
  as: string,
  name: string,
  report: () => Writable | Promise<Writable>,
): Promise<Response> {
  const format = requireFormat(as)
  const { content, type } = await writtenAs(format, report)
  return asFile(content, type, `${name}.${format}`)
}

async function contentOf(format: ReportFormat, report: Writable): Promise<string | Uint8Array> {
  switch (format) {
    case 'html':
      return report.html()
    case 'pdf':
      return asPdf(await report.html())
    case 'xlsx':
      return xlsxOf(report.sheets())
    case 'csv':
      return report.csv()
    case 'xml':
      return report.junit()
    case 'json':
      return `${JSON.stringify(report.json(), null, 2)}\n`
  }
}

/** @throws {Problem} NOT_PRINTED: there is no Chromium, or it does not print */
const asPdf = (html: string): Promise<Buffer> =>
  printing.through(() =>
    printPdf(html).catch((error: unknown) => {
      throw error instanceof NotPrinted
        ? new Problem('NOT_PRINTED', `There is no PDF: ${error.message}. HTML prints the same.`)
        : error
    }),
  )

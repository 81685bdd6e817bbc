/** A workbook of one sheet, as a spreadsheet program writes it. */
import { strToU8, zipSync } from 'fflate'

const SCHEMAS = 'http://schemas.openxmlformats.org'
const RELATIONS = `${SCHEMAS}/officeDocument/2006/relationships`
const SHEETS = `${SCHEMAS}/spreadsheetml/2006/main`
const IS_A = 'application/vnd.openxmlformats-'
const relationTo = (kind: string, target: string) =>
  `<Relationships xmlns="${SCHEMAS}/package/2006/relationships">` +
  `<Relationship Id="r1" Type="${RELATIONS}/${kind}" Target="${target}"/></Relationships>`
const cellOf = (text: string, row: number, column: number) =>
  `<c r="${'ABCDEF'[column]}${row + 1}" t="inlineStr"><is><t>${text}</t></is></c>`
const rowOf = (cells: string[], row: number) =>
  `<row r="${row + 1}">${cells.map((cell, column) => cellOf(cell, row, column)).join('')}</row>`

/** The smallest file a spreadsheet program would open. */
export const xlsx = (rows: string[][]) =>
  Buffer.from(
    zipSync(
      Object.fromEntries(
        Object.entries({
          '[Content_Types].xml':
            `<Types xmlns="${SCHEMAS}/package/2006/content-types">` +
            `<Default Extension="rels" ContentType="${IS_A}package.relationships+xml"/>` +
            '<Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ' +
            `ContentType="${IS_A}officedocument.spreadsheetml.sheet.main+xml"/>` +
            '<Override PartName="/xl/worksheets/sheet1.xml" ' +
            `ContentType="${IS_A}officedocument.spreadsheetml.worksheet+xml"/></Types>`,
          '_rels/.rels': relationTo('officeDocument', 'xl/workbook.xml'),
          'xl/workbook.xml':
            `<workbook xmlns="${SHEETS}" xmlns:r="${RELATIONS}">` +
            '<sheets><sheet name="Fares" sheetId="1" r:id="r1"/></sheets></workbook>',
          'xl/_rels/workbook.xml.rels': relationTo('worksheet', 'worksheets/sheet1.xml'),
          'xl/worksheets/sheet1.xml': `<worksheet xmlns="${SHEETS}"><sheetData>${rows.map(rowOf).join('')}</sheetData></worksheet>`,
        }).map(([name, text]) => [name, strToU8(text)]),
      ),
    ),
  )

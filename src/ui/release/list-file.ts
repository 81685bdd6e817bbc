const BYTES_MOST = 4_000_000

/** A list out of a file of a spreadsheet program, or a text, as CSV.
 * @throws with the reason as its message */
export async function listIn(file: File): Promise<string> {
  if (file.size > BYTES_MOST) throw new Error('The file is larger than a list of requirements.')
  if (!/\.xlsx$/i.test(file.name)) return file.text()
  const [{ readSheet }, { writeTable }] = await Promise.all([
    import('read-excel-file/browser'),
    import('@/core/formats'),
  ])
  const cells = await readSheet(file).catch(() => {
    throw new Error('The file cannot be read as a table (XLSX).')
  })
  const [header = [], ...body] = cells.map((row) => row.map((cell) => (cell === null ? '' : String(cell))))
  const columns = header.map((name, i) => name.trim() || `column ${i + 1}`)
  return writeTable({
    columns,
    rows: body.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i] ?? '']))),
  })
}

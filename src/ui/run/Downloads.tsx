import { buttonLook } from '../base/Button'

export type Download = { href: string; name: string; words: string }

/** What every report may be written as; `words` say it of a run. */
const FORMATS = [
  ['html', 'HTML', 'One file to read, send and print, with the screens of what failed. It works from disk.'],
  ['pdf', 'PDF', 'The same, on pages.'],
  ['xlsx', 'XLSX', 'A workbook: a row for each case run.'],
  ['csv', 'CSV', 'A line for each case run, for a spreadsheet.'],
  ['xml', 'JUnit XML', 'For programs that read results.'],
  ['json', 'JSON', 'All of it, for programs of your own.'],
] as const

/** @param address of the report, without what it is written as */
export const reportDownloads = (address: string): Download[] =>
  FORMATS.map(([as, name, words]) => ({ href: `${address}?as=${as}`, name, words }))

/** Files to take along, each with what is in it. */
export const Downloads = ({ files, narrow = false }: { files: readonly Download[]; narrow?: boolean }) => (
  <ul className="grid gap-2.5">
    {files.map(({ href, name, words }) => (
      <li
        key={href}
        className={`grid items-center ${narrow ? 'grid-cols-[92px_1fr] gap-3' : 'grid-cols-[124px_1fr] gap-4'}`}
      >
        <a href={href} download className={buttonLook('plain', 'justify-center')}>
          {name}
        </a>
        <span className="text-sm text-soft">{words}</span>
      </li>
    ))}
  </ul>
)

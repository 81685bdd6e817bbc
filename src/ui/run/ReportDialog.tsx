import { buttonLook } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Shared } from './Shared'

const FORMATS = [
  ['html', 'HTML', 'One file to read, send and print, with the screens of what failed. It works from disk.'],
  ['pdf', 'PDF', 'The same, on pages.'],
  ['xlsx', 'XLSX', 'A workbook: a row for each case run, and what was left out.'],
  ['csv', 'CSV', 'A line for each case run, for a spreadsheet.'],
  ['xml', 'JUnit XML', 'For programs that read results.'],
  ['json', 'JSON', 'All of it, for programs of your own.'],
] as const

/** Takes a run with one as a file. */
export function ReportDialog({
  run: { id, title, state },
  open,
  onClose,
}: {
  run: { id: number; title: string; state: string }
  open: boolean
  onClose(): void
}) {
  return (
    <Dialog open={open} onClose={onClose} title={`Report of ${title}`}>
      {state !== 'ended' && (
        <p className="mb-3 text-sm text-soft">It goes on: the report says how far it is.</p>
      )}
      <ul className="grid gap-2.5">
        {FORMATS.map(([as, name, words]) => (
          <li key={as} className="grid grid-cols-[104px_1fr] items-center gap-4">
            <a
              href={`/api/runs/${id}/report?as=${as}`}
              download
              className={buttonLook('plain', 'justify-center')}
            >
              {name}
            </a>
            <span className="text-sm text-soft">{words}</span>
          </li>
        ))}
      </ul>
      <Shared runId={id} />
    </Dialog>
  )
}

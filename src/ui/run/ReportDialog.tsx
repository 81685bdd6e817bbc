import { Dialog } from '../base/Dialog'
import { Downloads, reportDownloads } from './Downloads'
import { Shared } from './Shared'

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
      <Downloads files={reportDownloads(`/api/runs/${id}/report`)} />
      <Shared runId={id} />
    </Dialog>
  )
}

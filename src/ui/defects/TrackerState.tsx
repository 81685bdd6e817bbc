import type { DefectViewModel } from '@/core/view-models'

/** Where a defect stands with the tracker: its number and state, or what keeps it. */
export function TrackerState({ defect }: { defect: DefectViewModel }) {
  if (defect.state === 'sent' && defect.mailTo !== null)
    return (
      <span>
        mailed
        <span className="block truncate text-xs text-soft">{defect.mailTo}</span>
      </span>
    )
  if (defect.state === 'sent')
    return (
      <span>
        <b className="font-mono text-[12.5px] font-semibold">{defect.trackerNumber}</b>
        <span className="block text-xs text-soft">{defect.trackerState}</span>
      </span>
    )
  if (defect.state === 'draft') return <span className="text-soft">draft</span>
  return <span className="text-recovered-text">{defect.sendProblem ? 'kept, sent later' : 'being sent'}</span>
}

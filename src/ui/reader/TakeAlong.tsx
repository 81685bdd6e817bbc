import { Dialog } from '../base/Dialog'
import { Downloads, reportDownloads } from '../run/Downloads'

/** Takes an attempt, or its case run, with one as a file. */
export function TakeAlong({ attemptId, onClose }: { attemptId: string; onClose(): void }) {
  const path = `/api/attempts/${attemptId}`
  return (
    <Dialog open onClose={onClose} title="Take along">
      <h3 className="label mb-2">This attempt</h3>
      <Downloads
        files={[
          {
            href: `${path}/document`,
            name: 'Evidence',
            words: 'One file with steps, values, checks and screens. ./oak verify tells when it was changed.',
          },
        ]}
      />
      <h3 className="label mt-5 mb-2">The case run, with all its attempts</h3>
      <Downloads
        files={[
          {
            href: `${path}/bundle`,
            name: 'Zip',
            words: 'Every screen, video and log. Unpack it and open index.html: it works from disk.',
          },
          ...reportDownloads(`${path}/report`),
        ]}
      />
    </Dialog>
  )
}

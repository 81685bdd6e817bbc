/** The tracker, over HTTP: takes a defect, gives it a number. */
import { setting } from '@/db/settings'
import type { DefectRow } from '@/db/defects'
import type { Context } from '../context'

export type TrackerAnswer = { number: string; state: string; url: string }
/** The tracker did not take the defect; the message is for a person. */
export class TrackerProblem extends Error {}

const ANSWER_MS = 5000

/** Sends a defect. Sending the same one again yields the same number: it carries a key of ours.
 * @throws {TrackerProblem} */
export async function sendToTracker(ctx: Pick<Context, 'db'>, defect: DefectRow): Promise<TrackerAnswer> {
  const tracker = await setting<{ url: string }>(ctx.db, 'tracker')
  if (!tracker) throw new TrackerProblem('No tracker is set up.')
  const response = await fetch(`${tracker.url}/api/issues`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      key: `oak-defect-${defect.id}-${defect.createdAt.getTime()}`,
      title: defect.title,
      body: bodyOf(defect),
    }),
    signal: AbortSignal.timeout(ANSWER_MS),
  }).catch((error: unknown) => {
    throw new TrackerProblem(
      `The tracker does not answer (${(error as Error).name === 'TimeoutError' ? `nothing within ${ANSWER_MS / 1000} s` : 'no connection'}).`,
    )
  })
  if (!response.ok) throw new TrackerProblem(`The tracker answers ${response.status}.`)
  return (await response.json()) as TrackerAnswer
}

function bodyOf(defect: DefectRow): string {
  const parts = [
    `Steps to reproduce\n${defect.steps}`,
    `Expected\n${defect.expected}`,
    `Actual\n${defect.actual}`,
    `Environment: ${defect.environment}\nBuild: ${defect.build}\nSeverity: ${defect.severity}`,
  ]
  if (defect.evidence.length > 0)
    parts.push(
      `Evidence\n${defect.evidence.map(({ kind, hash }) => `${kind}: /api/evidence/${hash}`).join('\n')}`,
    )
  return parts.join('\n\n')
}

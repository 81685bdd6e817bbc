import type { DefectRow } from '@/db/defects'

/** The address people know this server by; empty where it was not said, then places are paths. */
const home = (): string => (process.env.OAK_PUBLIC_URL ?? process.env.OAK_URL ?? '').replace(/\/$/, '')

/** Where the log and the evidence are, a line each. */
export const placesOf = ({
  attemptId,
  caseRunId,
  runId,
  evidence,
}: Pick<DefectRow, 'attemptId' | 'caseRunId' | 'runId' | 'evidence'>): string[] => [
  ...(attemptId === null ? [] : [`The log: ${home()}/attempts/${attemptId}`]),
  ...(caseRunId !== null ? [`The result: ${home()}/runs/${runId}?cell=${caseRunId}`] : []),
  ...evidence.map(({ kind, hash }) => `${kind}: ${home()}/api/evidence/${hash}`),
]

/** A defect as plain text, for a tracker or a mail. */
export function bodyOf(defect: DefectRow): string {
  const places = placesOf(defect)
  return [
    `Steps to reproduce\n${defect.steps}`,
    `Expected\n${defect.expected}`,
    `Actual\n${defect.actual}`,
    ...(defect.occurs === '' ? [] : [`Where and since when\n${defect.occurs}`]),
    `Environment: ${defect.environment}\nBuild: ${defect.build}\nSeverity: ${defect.severity}`,
    ...(places.length > 0 ? [`Evidence\n${places.join('\n')}`] : []),
  ].join('\n\n')
}

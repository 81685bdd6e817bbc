/** A case run as a folder of files that works from disk: a page for each attempt beside its screens, its
 * video and its log, and one that leads to them. */
import { describeDuration } from '../model'
import { plural } from '../view-models'
import { attemptBody, type DocumentedAttempt } from './case-document'
import { html } from './html'
import { FOLDER_POLICY, momentOf, sheetOf } from './sheet'

export type BundledAttempt = {
  attempt: DocumentedAttempt
  /** Its name, beside `index.html`. */
  folder: string
  /** Files of its folder by hash; what is not among them was not kept. */
  files: ReadonlyMap<string, string>
}

/** The page of an attempt, in its folder. */
export function bundlePage({ attempt, files }: BundledAttempt): string {
  const video = attempt.video && files.get(attempt.video.hash)
  return sheetOf(
    attempt.title,
    html`<p class="soft">
        <a href="../index.html">All attempts</a> · <a href="evidence.html">Evidence document</a>, checked by
        ./oak verify · <a href="log.txt">Log as text</a>
      </p>
      ${video && html`<p><video controls muted src="${video}"></video></p>`}
      ${attempt.video && !video && html`<p class="soft">The video was not kept.</p>`}
      ${attemptBody(attempt, files)}`,
    FOLDER_POLICY,
  )
}

/** @param made when and for whom, ISO 8601 @param left names of files there was no room for */
export function bundleIndex(
  attempts: readonly BundledAttempt[],
  made: { at: string; by: string },
  left: readonly string[] = [],
): string {
  const { title, caseKey, runTitle, runId, build } = attempts[0]!.attempt
  return sheetOf(
    title,
    html`<h1>${title}</h1>
      <p class="soft">
        ${caseKey} in ${runTitle}, no. ${runId}, build ${build}. ${plural(attempts.length, 'attempt')}.
      </p>
      <table>
        <thead>
          <tr>
            <th>Attempt</th>
            <th>Outcome</th>
            <th>Where</th>
            <th>Started</th>
            <th>Took</th>
          </tr>
        </thead>
        <tbody>
          ${attempts.map(
            ({ attempt, folder }) =>
              html`<tr>
                <td><a href="${folder}/index.html">${nameOf(attempt)}</a></td>
                <td class="mark ${attempt.mark}">${attempt.mark}</td>
                <td>${attempt.environment.title}, agent ${attempt.agent}</td>
                <td>${attempt.startedAt && momentOf(attempt.startedAt)}</td>
                <td class="n">${describeDuration(attempt.ms)}</td>
              </tr> `,
          )}
        </tbody>
      </table>
      ${left.length > 0 && html`<p>Left out, as there was no room for it: ${left.join(', ')}</p>`}
      <p class="soft">Made ${momentOf(made.at)} for ${made.by}.</p>`,
    FOLDER_POLICY,
  )
}

const nameOf = ({ number, role }: DocumentedAttempt) =>
  role === '' ? `No. ${number}` : `No. ${number}, ${role}`

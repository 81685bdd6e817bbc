/** A release sheet as it was signed: a file that stands by itself and prints well. */
import {
  COVERAGE_WORDS,
  VERDICT_WORDS,
  WEIGHT_WORDS,
  type CoveredRequirement,
  type ReleaseSheet,
  type Weight,
} from '../requirements'
import { html, type Html } from './html'
import { momentOf, sheetOf } from './sheet'

const MARKS: Record<Weight, string> = { stops: 'failed', doubt: 'errored', note: 'skipped', good: 'passed' }

export type SignedSheet = {
  sheet: ReleaseSheet
  requirements: readonly CoveredRequirement[]
  environments: readonly { key: string; title: string }[]
  goes: boolean
  note: string
  by: string
  at: string
}

/** Not sealed yet. */
export function releaseDocumentOf({ sheet, requirements, environments, ...signed }: SignedSheet): string {
  const body = html`
    <h1>Release sheet of build ${sheet.build}</h1>
    <p>
      <b>${signed.goes ? 'It goes out' : 'It stays'}</b>, signed by ${signed.by} on ${momentOf(signed.at)}.
      ${signed.note && html`<br />“${signed.note}”`}
    </p>
    <h2>${VERDICT_WORDS[sheet.verdict]}</h2>
    ${sheet.speaks.map(
      ({ weight, text, of, more }) =>
        html`<p><span class="mark ${MARKS[weight]}">${WEIGHT_WORDS[weight]}</span> ${text}</p>
          ${
            of.length > 0 &&
            html`<ul>
              ${of.map(({ words }) => html`<li>${words}</li>`)}${more > 0 && html`<li>and ${more} more</li>`}
            </ul>`
          }`,
    )}
    ${
      requirements.length > 0 &&
      html`<h2>Requirements</h2>
        ${tableOf(requirements, environments)}`
    }
  `
  return sheetOf(`Release sheet of build ${sheet.build}`, body)
}

const tableOf = (
  requirements: readonly CoveredRequirement[],
  environments: readonly { key: string; title: string }[],
): Html =>
  html`<table>
    <thead>
      <tr>
        <th>Requirement</th>
        <th>Importance</th>
        <th>Cases</th>
        <th>Met</th>
        ${environments.map(({ title }) => html`<th>${title}</th>`)}
      </tr>
    </thead>
    <tbody>
      ${requirements.map(
        (one) =>
          html`<tr>
            <td style="padding-left: ${one.depth * 16}px">${one.key} ${one.title}</td>
            <td>${one.importance}</td>
            <td class="n">${one.cases.length}</td>
            <td>${COVERAGE_WORDS[one.coverage]}</td>
            ${environments.map(({ key }) => {
              const cell = one.cells[key]
              return html`<td>${cell ? COVERAGE_WORDS[cell] : ''}</td>`
            })}
          </tr>`,
      )}
    </tbody>
  </table>`

/** A report of a run as one HTML file: it works from disk and prints well, and no script in it runs. */
import { describeDuration } from '../model'
import type { Mark } from '../execution'
import { plural } from '../view-models'
import { html, type Html } from './html'
import type { ReportedCase, RunReport } from './run-report'
import { momentOf, sheetOf } from './sheet'

/** @param screens pictures by their hash, as addresses of data
 * @param address of the product, for links to each attempt; absent: there are none */
export function htmlOf(
  report: RunReport,
  { screens = new Map(), address }: { screens?: ReadonlyMap<string, string>; address?: string } = {},
): string {
  const titles = new Map(report.environments.map(({ key, title }) => [key, title]))
  const environment = (key: string) => titles.get(key) ?? key
  const failing = report.cases.filter(({ mark }) => mark === 'failed' || mark === 'errored')
  const body = html`
    ${headOf(report)}
    ${
      failing.length > 0 &&
      html`<h2>What failed</h2>
        ${failing.map((one) => failureOf(one, environment(one.environment), screens, address))}`
    }
    <h2>All case runs</h2>
    <table>
      <thead>
        <tr>
          <th>Case</th>
          <th>Environment</th>
          <th>Outcome</th>
          <th>Attempts</th>
          <th>Time</th>
        </tr>
      </thead>
      <tbody>
        ${report.cases.map((one) => lineOf(one, environment(one.environment)))}
      </tbody>
    </table>
    ${
      report.leftOut.length > 0 &&
      html`<h2>Left out</h2>
        <ul>
          ${report.leftOut.map(({ title, why }) => html`<li>${title}: ${why}</li>`)}
        </ul>`
    }
  `
  return sheetOf(`${report.title}, build ${report.build}`, body)
}

const ORDER: readonly Mark[] = ['failed', 'errored', 'recovered', 'passed', 'skipped', 'cancelled']

function headOf({ title, build, counts, startedAt, endedAt, state, environments }: RunReport): Html {
  const told = ORDER.filter((mark) => counts[mark] > 0).map(
    (mark) => html`<span class="mark ${mark}">${counts[mark]} ${mark}</span> `,
  )
  const all = Object.values(counts).reduce((sum, n) => sum + n, 0)
  return html`<h1>${title}</h1>
    <p class="soft">
      Build ${build} on ${environments.map((one) => one.title).join('; ')}.
      ${[
        startedAt !== null && `Started ${momentOf(startedAt)}`,
        endedAt !== null && `ended ${momentOf(endedAt)}`,
        state !== 'ended' && 'not ended yet',
      ]
        .filter(Boolean)
        .join(', ')}.
    </p>
    <p>${told} of ${plural(all, 'case run')}</p>`
}

const timeOf = (ms: number | null) => (ms === null ? '' : describeDuration(ms))
const nameOf = ({ title, row }: ReportedCase) => (row === null ? title : `${title}, ${row}`)

const lineOf = (one: ReportedCase, environment: string) =>
  html`<tr>
    <td>${nameOf(one)}</td>
    <td>${environment}</td>
    <td class="mark ${one.mark}">${one.mark}</td>
    <td class="n">${one.attempts}</td>
    <td class="n">${timeOf(one.durationMs)}</td>
  </tr> `

function failureOf(
  one: ReportedCase,
  environment: string,
  screens: ReadonlyMap<string, string>,
  address: string | undefined,
): Html {
  const screen = one.screen === null ? undefined : screens.get(one.screen)
  return html`<article>
    <h3>${nameOf(one)} <span class="mark ${one.mark}">${one.mark}</span></h3>
    <p class="soft">
      ${environment}${one.agent !== null && html`, agent ${one.agent}`}, ${plural(one.attempts, 'attempt')}
      ${address !== undefined && one.attemptId !== null && html` · ${address}/attempts/${one.attemptId}`}
    </p>
    <p class="why">${one.failure}</p>
    ${
      (one.expected !== null || one.actual !== null) &&
      html`<dl>
        <dt>expected</dt>
        <dd>${one.expected ?? 'nothing said'}</dd>
        <dt>actual</dt>
        <dd>${one.actual ?? 'nothing said'}</dd>
      </dl>`
    }
    ${screen !== undefined && html`<img src="${screen}" alt="The last screen" />`}
  </article> `
}

/** A report of a run as one HTML file: it works from disk and prints well, and no script in it runs. */
import { describeDuration } from '../model'
import type { Mark } from '../execution'
import { plural } from '../view-models'
import { html, Html } from './html'
import type { ReportedCase, RunReport } from './run-report'

const STYLE = `
:root { color: #26241f; background: #fff; font: 14px/1.45 system-ui, sans-serif }
body { max-width: 1080px; margin: 32px auto; padding: 0 24px }
h1 { font-size: 24px; margin: 0 } h2 { font-size: 17px; margin: 32px 0 8px } h3 { font-size: 15px; margin: 0 }
p { margin: 4px 0 } .why::first-letter { text-transform: uppercase } .soft { color: #6a655b }
table { border-collapse: collapse; width: 100% } th, td { text-align: left; padding: 4px 10px 4px 0; vertical-align: top; border-bottom: 1px solid #e3ded3 }
td, dd { overflow-wrap: anywhere } td.n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap }
.mark { font-weight: 600; white-space: nowrap } .passed { color: #1f6b51 } .recovered { color: #85600f }
.failed { color: #a12c3f } .errored { color: #6b3a7d } .skipped, .cancelled { color: #6a655b }
article { border: 1px solid #e3ded3; padding: 14px 16px; margin: 12px 0; break-inside: avoid }
dl { display: grid; grid-template-columns: 90px 1fr; gap: 2px 12px; margin: 8px 0; font-family: ui-monospace, monospace; font-size: 13px } dt { color: #6a655b } dd { margin: 0 }
img { max-width: 100%; max-height: 420px; border: 1px solid #e3ded3; margin-top: 8px }
@media print { body { margin: 0; max-width: none; padding: 0 } }
`.trim()

/** Nothing is loaded from anywhere, and nothing runs. */
const POLICY =
  "default-src 'none'; img-src data:; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'"

/** @param screens pictures by their hash, as addresses of data
 * @param address of the product, for links to each attempt; absent: there are none */
export function htmlOf(
  report: RunReport,
  { screens = new Map(), address }: { screens?: ReadonlyMap<string, string>; address?: string } = {},
): string {
  const titles = new Map(report.environments.map(({ key, title }) => [key, title]))
  const environment = (key: string) => titles.get(key) ?? key
  const failing = report.cases.filter(({ mark }) => mark === 'failed' || mark === 'errored')
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta http-equiv="Content-Security-Policy" content="${POLICY}" />
        <meta name="viewport" content="width=device-width" />
        <title>${report.title}, build ${report.build}</title>
        <style>
          ${new Html(STYLE)}
        </style>
      </head>
      <body>
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
      </body>
    </html> `
  return `${page.text.trim()}\n`
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
      ${startedAt !== null && html`Started ${momentOf(startedAt)}`}${endedAt !== null && html`, ended ${momentOf(endedAt)}`}${state !== 'ended' && html`, not ended yet`}.
    </p>
    <p>${told} of ${plural(all, 'case run')}</p>`
}

const momentOf = (moment: string) => `${moment.slice(0, 10)} ${moment.slice(11, 16)} UTC`
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

/** A rotation over its last runs as one HTML file. */
import type { Mark } from '../execution'
import { describeDuration } from '../model'
import { plural } from '../view-models'
import { html, type Html } from './html'
import type { RotationCase, RotationReport, RotationRun } from './rotation-report'
import { momentOf, sheetOf } from './sheet'

/** Cases of which each mark is shown; of the others it is told that nothing changed. */
const CASES_MOST = 400
const ORDER = ['passed', 'recovered', 'failed', 'errored', 'skipped', 'cancelled'] as const satisfies Mark[]
const COLOURS: Record<(typeof ORDER)[number], string> = {
  passed: '#3f8f6d',
  recovered: '#c9a24a',
  failed: '#a8324a',
  errored: '#6b3a7d',
  skipped: '#bdb6a8',
  cancelled: '#dcd6ca',
}
/** One letter a mark, so that it can be told without its colour. */
const LETTERS: Record<(typeof ORDER)[number], string> = {
  passed: 'p',
  recovered: 'r',
  failed: 'F',
  errored: 'E',
  skipped: 's',
  cancelled: 'c',
}

export function rotationHtml(report: RotationReport): string {
  const { title, runs, cases } = report
  const failing = cases.filter(({ failures, turns }) => failures > 0 || turns > 0)
  const shown = failing.slice(0, CASES_MOST)
  return sheetOf(
    `${title}, over ${plural(runs.length, 'run')}`,
    html`<h1>${title}</h1>
      <p class="soft">
        ${plural(runs.length, 'run')}${
          runs.length > 0 &&
          html`, from ${momentOf(runs[0]!.startedAt ?? runs[0]!.endedAt ?? '')} to
          ${momentOf(runs.at(-1)!.endedAt ?? runs.at(-1)!.startedAt ?? '')}`
        }.
      </p>
      ${runs.length > 0 && barsOf(runs)}
      <table>
        <thead>
          <tr>
            <th>Run</th>
            <th>Build</th>
            <th>Started</th>
            <th>Took</th>
            ${ORDER.map((mark) => html`<th class="n">${mark}</th>`)}
          </tr>
        </thead>
        <tbody>
          ${runs.map(runLine)}
        </tbody>
      </table>
      <h2>Cases that failed, or changed</h2>
      ${
        shown.length === 0
          ? html`<p>None: every case ended the same way each time, and well.</p>`
          : html`<p class="soft">
                A column a run, the oldest first: p passed, r recovered, F failed, E errored, s skipped, c
                cancelled, · not in it.
              </p>
              <table>
                <thead>
                  <tr>
                    <th>Case</th>
                    <th>Environment</th>
                    <th class="n">Failed</th>
                    <th class="n">Turned</th>
                    <th class="n">Usual time</th>
                    <th>Runs</th>
                  </tr>
                </thead>
                <tbody>
                  ${shown.map(caseLine)}
                </tbody>
              </table>`
      }
      ${failing.length > shown.length && html`<p>And ${failing.length - shown.length} more.</p>`}
      <p class="soft">${plural(cases.length - failing.length, 'case')} passed each time.</p>`,
  )
}

const lasting = ({ startedAt, endedAt }: RotationRun): string =>
  startedAt && endedAt ? describeDuration(Date.parse(endedAt) - Date.parse(startedAt)) : ''

const runLine = (run: RotationRun): Html =>
  html`<tr>
    <td>${run.title}, no. ${run.id}</td>
    <td>${run.build}</td>
    <td>${run.startedAt && momentOf(run.startedAt)}</td>
    <td class="n">${lasting(run)}</td>
    ${ORDER.map((mark) => html`<td class="n">${run.counts[mark] ?? 0}</td>`)}
  </tr> `

const caseLine = ({ title, row, environment, failures, turns, medianMs, marks }: RotationCase): Html =>
  html`<tr>
    <td>${title}${row !== null && `, row ${row}`}</td>
    <td>${environment}</td>
    <td class="n">${failures}</td>
    <td class="n">${turns}</td>
    <td class="n">${medianMs !== null && describeDuration(medianMs)}</td>
    <td>
      <code
        >${marks.map((mark) => (mark === null ? '·' : html`<span class="mark ${mark}">${LETTERS[mark]}</span>`))}</code
      >
    </td>
  </tr> `

const [WIDTH, HEIGHT, GAP] = [1000, 120, 3]

/** A bar for each run, of its case runs by outcome. */
function barsOf(runs: readonly RotationRun[]): Html {
  const most = Math.max(
    1,
    ...runs.map(({ counts }) => ORDER.reduce((sum, mark) => sum + (counts[mark] ?? 0), 0)),
  )
  const width = WIDTH / runs.length
  const bar = ({ counts }: RotationRun, i: number) => {
    let y = HEIGHT
    return ORDER.map((mark) => {
      const height = ((counts[mark] ?? 0) / most) * HEIGHT
      y -= height
      return (
        height > 0 &&
        html`<rect
          x="${(i * width).toFixed(1)}"
          y="${y.toFixed(1)}"
          width="${Math.max(1, width - GAP).toFixed(1)}"
          height="${height.toFixed(1)}"
          fill="${COLOURS[mark]}"
        />`
      )
    })
  }
  return html`<svg
    viewBox="0 0 ${WIDTH} ${HEIGHT}"
    width="100%"
    height="${HEIGHT}"
    preserveAspectRatio="none"
    role="img"
    aria-label="Case runs of each run by outcome; the table beneath says the same"
  >
    ${runs.map(bar)}
  </svg>`
}

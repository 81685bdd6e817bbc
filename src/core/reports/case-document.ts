/** What happened in a case run, as a document that stands by itself and can be checked: for those who were
 * not there. */
import type { Mark, OutlineLine } from '../execution'
import { describeDuration } from '../model'
import type { AttemptViewModel } from '../view-models'
import { html, type Html } from './html'
import { momentOf, sheetOf } from './sheet'

/** An attempt, and who started its run. */
export type DocumentedAttempt = Pick<
  AttemptViewModel,
  | 'id'
  | 'title'
  | 'caseKey'
  | 'runId'
  | 'runTitle'
  | 'build'
  | 'environment'
  | 'agent'
  | 'row'
  | 'mark'
  | 'number'
  | 'startedAt'
  | 'ms'
  | 'facts'
  | 'role'
  | 'video'
  | 'marked'
> & { startedBy: string; lines: OutlineLine[] }

/** @param pictures by their hash (SHA-256 of the bytes), as addresses of data; others are named only
 * @param made when and for whom, ISO 8601 */
export function caseDocument(
  attempt: DocumentedAttempt,
  pictures: ReadonlyMap<string, string>,
  made: { at: string; by: string },
): string {
  return sheetOf(
    `${attempt.title}: evidence`,
    html`${attemptBody(attempt, pictures)}
      <h2>Pieces of evidence</h2>
      ${piecesOf(attempt, pictures)}
      <p class="soft">
        Made ${momentOf(made.at)} for ${made.by}. The last line of this file holds the SHA-256 of all before
        it. Whether it was changed: ./oak verify FILE
      </p>`,
  )
}

/** What an attempt was, its marked screens and its steps.
 * @param pictures addresses by hash */
export function attemptBody(attempt: DocumentedAttempt, pictures: ReadonlyMap<string, string>): Html {
  const shown = new Set<string>()
  return html`${headOf(attempt)}
    ${
      attempt.marked.length > 0 &&
      html`<h2>Marked screens</h2>
        ${attempt.marked.map(
          ({ hash, note, markedBy, path }) =>
            html`<article>
              <h3>${note || 'Marked screen'}</h3>
              <p class="soft">${markedBy}, of ${path}</p>
              ${pictureOf(hash, pictures)}
            </article> `,
        )}`
    }
    <h2>Steps</h2>
    ${attempt.lines.map((line) => stepOf(line, pictures, shown))}`
}

function headOf(attempt: DocumentedAttempt): Html {
  const { environment, facts, row } = attempt
  const lines: [string, string | null][] = [
    ['case', attempt.caseKey],
    ['run', `${attempt.runTitle}, no. ${attempt.runId}, started by ${attempt.startedBy}`],
    ['build', attempt.build],
    ['where', `${environment.title}${environment.simulated ? ' (simulated)' : ''}, agent ${attempt.agent}`],
    [
      'facts',
      Object.entries(facts)
        .map(([name, value]) => `${name} ${value}`)
        .join(', '),
    ],
    ['row', row && `${row.index} of ${row.of}: ${valuesOf(row.values)}`],
    ['role', attempt.role || null],
    ['attempt', `no. ${attempt.number}, ${attempt.id}`],
    ['when', attempt.startedAt && `${momentOf(attempt.startedAt)}, ${describeDuration(attempt.ms)}`],
  ]
  const failure = attempt.lines.find(({ failing }) => failing)?.failure
  return html`<h1>${attempt.title} <span class="mark ${attempt.mark}">${attempt.mark}</span></h1>
    ${failure && html`<p class="why">${failure.message}</p>`}
    <dl>
      ${lines.map(
        ([name, value]) =>
          value &&
          html`<dt>${name}</dt>
            <dd>${value}</dd> `,
      )}
    </dl>`
}

const valuesOf = (values: Readonly<Record<string, string>>) =>
  Object.entries(values)
    .map(([name, value]) => `${name} = ${value}`)
    .join(', ')

const OUTCOMES: Partial<Record<Mark, string>> = { skipped: 'not carried out', waiting: 'not reached' }

/** @param shown hashes that were shown before: a screen that did not change is not shown again */
function stepOf(line: OutlineLine, pictures: ReadonlyMap<string, string>, shown: Set<string>): Html {
  const { words, mark, failure, note, values, before, after, startMs, ms } = line
  const screens = [before, after].filter((screen) => screen !== undefined && !shown.has(screen.hash))
  for (const screen of screens) shown.add(screen!.hash)
  const facts: [string, string | undefined][] = [
    ['values', Object.keys(values).length > 0 ? valuesOf(values) : undefined],
    ['why', failure?.message],
    ['expected', failure?.expected],
    ['actual', failure?.actual],
    ['note', note],
  ]
  const told = facts.filter(([, text]) => text !== undefined)
  return html`<article style="margin-left: ${line.depth * 20}px">
    <h3>
      ${[words.verb, words.object, words.detail].filter(Boolean).join(' ')}
      <span class="mark ${mark}">${OUTCOMES[mark] ?? mark}</span>
    </h3>
    <p class="soft">
      ${[
        line.path,
        ...(startMs === undefined ? [] : [`${describeDuration(startMs)} into the attempt`]),
        ...(ms === undefined ? [] : [`took ${describeDuration(ms)}`]),
      ].join(', ')}
    </p>
    ${
      told.length > 0 &&
      html`<dl>
        ${told.map(
          ([name, text]) =>
            html`<dt>${name}</dt>
              <dd>${text}</dd> `,
        )}
      </dl>`
    }
    ${screens.map((screen) => pictureOf(screen!.hash, pictures))}
  </article> `
}

const pictureOf = (hash: string, pictures: ReadonlyMap<string, string>): Html => {
  const data = pictures.get(hash)
  return data === undefined
    ? html`<p class="soft">Screen <code>${hash}</code>, not in this file</p>`
    : html`<img src="${data}" alt="The screen" />
        <p class="soft"><code>${hash}</code></p>`
}

/** Everything that was kept, with its hash: what is not in the file is told by it. */
function piecesOf({ lines, video, marked }: DocumentedAttempt, pictures: ReadonlyMap<string, string>): Html {
  const screens = hashesOf(lines)
  return html`<table>
    <thead>
      <tr>
        <th>What</th>
        <th>SHA-256</th>
        <th>In this file</th>
      </tr>
    </thead>
    <tbody>
      ${screens.map((hash) => pieceLine('screen', hash, pictures.has(hash)))}
      ${marked.map(({ hash }) => pieceLine('marked screen', hash, pictures.has(hash)))}
      ${video && pieceLine('video', video.hash, false)}
    </tbody>
  </table>`
}

const pieceLine = (what: string, hash: string, isHere: boolean) =>
  html`<tr>
    <td>${what}</td>
    <td><code>${hash}</code></td>
    <td>${isHere ? 'yes' : 'no'}</td>
  </tr> `

/** Screens of an attempt, in its order, each once. */
export const hashesOf = (lines: readonly Pick<OutlineLine, 'before' | 'after'>[]): string[] => [
  ...new Set(
    lines.flatMap(({ before, after }) => [before?.hash, after?.hash].filter((one) => one !== undefined)),
  ),
]

const SEAL = /\n<!-- sha256 ([0-9a-f]{64}) -->\n?$/
/** The document with the hash of all that stands before it. @param sha256 of a text in UTF-8, in hex */
export const sealed = (document: string, sha256: (text: string) => string): string =>
  `${document}<!-- sha256 ${sha256(document)} -->\n`

export type Verdict = { sound: true; hash: string; pieces: number } | { sound: false; why: string }

/** Whether a document is as it was made, and each picture in it what its hash says.
 * @param sha256 of a text in UTF-8, or of bytes, in hex
 * @param bytesOf what base64 stands for */
export function verdictOn(
  file: string,
  sha256: (of: string | Uint8Array) => string,
  bytesOf: (base64: string) => Uint8Array,
): Verdict {
  const found = SEAL.exec(file)
  if (!found)
    return { sound: false, why: 'it has no hash in its last line: it is no evidence document, or cut off' }
  const hash = found[1]!
  if (sha256(file.slice(0, found.index + 1)) !== hash)
    return { sound: false, why: 'what it holds is not what it was made with: it was changed' }
  const pictures = [...file.matchAll(PICTURE)]
  const wrong = pictures.find(([, base64, named]) => sha256(bytesOf(base64!)) !== named)
  if (wrong) return { sound: false, why: `the picture ${wrong[2]!} is another one` }
  return { sound: true, hash, pieces: pictures.length }
}

const PICTURE =
  /<img src="data:image\/[a-z]+;base64,([A-Za-z0-9+/=]*)" alt="The screen" \/>\s*<p class="soft">\s*<code>([0-9a-f]{64})<\/code>/g

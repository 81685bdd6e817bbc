/** An outline ordered by the pages the browser was on: what was done on each, in order. */
import type { OutlineLine } from './outline'

/** Path of a line that stands for a page; those of steps begin with a word and a dot. */
const PAGE = 'page:'
export const isPageLine = ({ path }: Pick<OutlineLine, 'path'>): boolean => path.startsWith(PAGE)

/** Steps that belong to the page they lead to; others, to the one they were done on. */
const ARRIVING: ReadonlySet<string> = new Set(['open', 'go', 'signed-in', 'window'])
const SEVERITY = ['errored', 'failed', 'recovered'] as const

/** @returns for each stay on a page a line of its own, and below it the steps that were carried out there.
 * Steps that only hold others are left out */
export function byPage(lines: readonly OutlineLine[]): OutlineLine[] {
  const holds = new Set(lines.flatMap(({ path }) => parentsOf(path)))
  const done = lines
    .filter(({ path, startMs, no }) => startMs !== undefined && no !== undefined && !holds.has(path))
    .sort((a, b) => a.no! - b.no!)
  const stays: { page: OutlineLine['page']; lines: OutlineLine[] }[] = []
  let page: OutlineLine['page']
  for (const line of done) {
    if (line.page && ARRIVING.has(line.words.verb)) page = line.page
    const stay = stays.at(-1)
    if (stay && samePage(stay.page, page)) stay.lines.push(line)
    else stays.push({ page, lines: [line] })
    if (line.page) page = line.page
  }
  const isTold = done.some((line) => line.page !== undefined)
  return stays.flatMap(({ page: of, lines: its }, i) => [
    headOf(of, its, i, isTold ? 'before the first page' : 'its agent did not say which pages'),
    ...its.map((line) => ({ ...line, depth: 1 })),
  ])
}

function headOf(
  page: OutlineLine['page'],
  lines: readonly OutlineLine[],
  nth: number,
  otherwise: string,
): OutlineLine {
  const [first, last] = [lines[0]!, lines.at(-1)!]
  return {
    path: `${PAGE}${nth}`,
    depth: 0,
    words: page
      ? { verb: page.title || 'page', object: '', detail: addressOf(page.url) }
      : { verb: otherwise, object: '', detail: '' },
    mark: SEVERITY.find((mark) => lines.some((line) => line.mark === mark)) ?? 'passed',
    startMs: first.startMs!,
    ms: (last.startMs ?? 0) + (last.ms ?? 0) - first.startMs!,
    values: {},
    console: [],
    requests: [],
    onTheWay: lines.some(({ onTheWay }) => onTheWay),
    failing: false,
  }
}

/** "main.2.0": "main.2". */
function parentsOf(path: string): string[] {
  const parts = path.split('.')
  return parts.slice(2).map((_, i) => parts.slice(0, i + 2).join('.'))
}

const samePage = (a: OutlineLine['page'], b: OutlineLine['page']): boolean =>
  a === b || (a !== undefined && b !== undefined && addressOf(a.url) === addressOf(b.url))

/** Without the host and the fragment: another fragment is the same page. */
const addressOf = (url: string): string => url.replace(/#.*$/, '').replace(/^[a-z]+:\/\/[^/]+/, '') || '/'

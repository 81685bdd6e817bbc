/** The outline of an attempt: what happened, as the tree the case is, with what was not reached shown too. */
import { describeStep, type Routine, type Step, type TestCase } from '../model'
import type { Mark } from './outcomes'
import type { Box, NumberedEvent, ScreenCheck, StepWords } from './work'
import type { Failure } from './outcomes'

export type Screen = { hash: string; width: number; height: number; atMs: number }
export type OutlineLine = {
  path: string
  /** Number of the event it began with; absent: not reached. */
  no?: number
  depth: number
  words: StepWords
  mark: Mark
  startMs?: number
  ms?: number
  failure?: Omit<Failure, 'path'>
  note?: string
  because?: string
  box?: Box
  before?: Screen
  after?: Screen
  screenCheck?: ScreenCheck
  values: Record<string, string>
  console: { atMs: number; level: string; text: string }[]
  /** `exchange`: the piece of evidence with headers and bodies, of one that failed. */
  requests: { atMs: number; method: string; url: string; status: number; ms: number; exchange?: string }[]
  /** The page it led to. */
  page?: { url: string; title: string }
  /** True for lines that lead to a failure, the failing line included. */
  onTheWay: boolean
  /** A branch that a recovery rule made, or a try of a step that one of them put right. */
  recovery?: 'branch' | 'put-right'
  /** True where the failure itself is: a failing line with no failing line below it. */
  failing: boolean
}

/** Builds the outline from the frozen case and the attempt's events (any order; sorted by number here). */
export function outlineOf(
  testCase: TestCase,
  routines: readonly Routine[],
  events: readonly NumberedEvent[],
): OutlineLine[] {
  const lines = new Map<string, OutlineLine>()
  const sorted = [...events].sort((a, b) => a.no - b.no)
  for (const event of sorted) apply(event, lines)
  addExchanges(sorted, lines)
  const ended = sorted.some(
    (event) => event.type === 'step-ended' && (event.outcome === 'failed' || event.outcome === 'errored'),
  )
  for (const planned of plannedLines(testCase, routines))
    if (!lines.has(planned.path)) lines.set(planned.path, { ...planned, mark: ended ? 'skipped' : 'waiting' })
  const ordered = inOrder([...lines.values()], (path) => lines.get(path)?.no ?? Infinity)
  markTheWay(ordered)
  return ordered
}

/** Headers and bodies come later than their request, and maybe under another step. */
function addExchanges(events: readonly NumberedEvent[], lines: ReadonlyMap<string, OutlineLine>): void {
  const exchanges = new Map(
    events.flatMap((event) =>
      event.type === 'exchange' ? [[`${event.askedAtMs} ${event.url}`, event.hash] as const] : [],
    ),
  )
  if (exchanges.size === 0) return
  for (const request of [...lines.values()].flatMap((line) => line.requests)) {
    const hash = exchanges.get(`${request.atMs} ${request.url}`)
    if (hash !== undefined) request.exchange = hash
  }
}

function apply(event: NumberedEvent, lines: Map<string, OutlineLine>) {
  if (event.type === 'recovery-started') {
    lines.set(event.path, {
      ...emptyLine(event.path, { verb: 'recovery', object: nameOf(event.rule), detail: '' }),
      mark: 'running',
      no: event.no,
      startMs: event.atMs,
      note:
        `${event.words}. The rule is of the policy ${event.policy}, attached to ${event.from}; it was ` +
        `used because ${event.because}`,
      recovery: 'branch',
    })
    return
  }
  if (event.type === 'begun-again')
    return setAside(
      lines,
      ({ path }) => !/^\w+~/.test(path),
      (path) => path.replace(/^\w+/, (phase) => `${phase}~${event.round}`),
    )
  if (event.type === 'step-started') {
    // Tried once more by a recovery rule: the try before stands beside it.
    if (lines.has(event.path)) setTryAside(lines, event.path)
    const begun = emptyLine(event.path, event.words)
    begun.mark = 'running'
    begun.no = event.no
    begun.startMs = event.atMs
    if (event.values) begun.values = event.values
    if (event.because) begun.because = event.because
    lines.set(event.path, begun)
    return
  }
  const line = 'path' in event && event.path !== undefined ? lines.get(event.path) : undefined
  if (!line) return
  if (event.type === 'step-ended') {
    line.mark = event.outcome
    line.ms = event.ms
    if (event.failure) line.failure = event.failure
    if (event.box) line.box = event.box
    if (event.note) line.note = event.note
  } else if (event.type === 'recovery-ended') {
    const { result, ms, failure, note } = event
    Object.assign(
      line,
      { mark: result === 'worked' ? 'recovered' : 'errored', ms },
      failure && { failure },
      note && { note: `${line.note}; ${note}` },
    )
    const failed = lines.get(event.at)
    if (failed && result === 'worked') failed.recovery = 'put-right'
  } else if (event.type === 'screen')
    line[event.phase] = { hash: event.hash, width: event.width, height: event.height, atMs: event.atMs }
  else if (event.type === 'screen-check') {
    const { type: _, no: __, path: ___, atMs: ____, ...check } = event
    line.screenCheck = check
  } else if (event.type === 'console')
    line.console.push({ atMs: event.atMs, level: event.level, text: event.text })
  else if (event.type === 'request')
    line.requests.push({
      atMs: event.atMs,
      method: event.method,
      url: event.url,
      status: event.status,
      ms: event.ms,
    })
  else if (event.type === 'page') line.page = { url: event.url, title: event.title }
  else if (event.type === 'value') line.values[event.name] = event.value
}

/** "harbour/storm-notice" as people say it. */
const nameOf = (rule: string) => rule.slice(rule.indexOf('/') + 1).replaceAll('-', ' ')

/** What a step, and the steps in it, did before it was tried again stands beside it, numbered. */
function setTryAside(lines: Map<string, OutlineLine>, step: string): void {
  let tries = 1
  while (lines.has(`${step}~${tries}`)) tries++
  setAside(
    lines,
    ({ path }) => path === step || path.startsWith(`${step}.`),
    (path) => `${step}~${tries}${path.slice(step.length)}`,
  )
}

/** Gives lines another path: what happened later stands where they were. */
function setAside(
  lines: Map<string, OutlineLine>,
  which: (line: OutlineLine) => boolean,
  rename: (path: string) => string,
): void {
  for (const line of [...lines.values()].filter(which)) {
    const path = rename(line.path)
    lines.delete(line.path)
    lines.set(path, { ...line, path })
  }
}

const emptyLine = (path: string, words: StepWords): OutlineLine => ({
  path,
  words,
  depth: path.split('.').length - 2,
  mark: 'waiting',
  values: {},
  console: [],
  requests: [],
  onTheWay: false,
  failing: false,
})

/** Steps that are shown before they ran: routines that use others twice each would be millions. */
const PLANNED_MOST = 5000

/** What the case says will happen: one line a step, routines opened. Repeats and ifs show their body once
 * they ran. */
function plannedLines(testCase: TestCase, routines: readonly Routine[]): OutlineLine[] {
  const byKey = new Map(routines.map((routine) => [routine.key, routine]))
  const lines: OutlineLine[] = []
  const visit = (steps: readonly Step[], prefix: string, nesting: number) =>
    steps.forEach((step, i) => {
      const path = `${prefix}.${i}`
      if (lines.length >= PLANNED_MOST) return
      lines.push({
        ...emptyLine(path, describeStep(step)),
        ...(step.off && { note: 'switched off' }),
        ...(step.because && { because: step.because }),
      })
      if (nesting > 20) return // a routine that uses itself; the interpreter says so when it runs
      if (step.verb === 'block') visit(step.steps, path, nesting + 1)
      if (step.verb === 'use') visit(byKey.get(step.routine)?.steps ?? [], path, nesting + 1)
    })
  if (testCase.entry)
    lines.push(
      emptyLine('entry.0', { verb: '', object: `Entry: ${testCase.entry.replaceAll('-', ' ')}`, detail: '' }),
    )
  visit(testCase.steps, 'main', 0)
  visit(testCase.undo, 'undo', 0)
  return lines
}

const PHASE_ORDER: Record<string, number> = { entry: 0, main: 1, undo: 2 }

/** Order of the outline: rounds, phases, then step by step; a parent before its children. Beside a step stand
 * its earlier tries ("3~1") and the recovery branches between them ("3!1"), as they began. */
export const comparePaths = (a: string, b: string, startOf: (path: string) => number = () => 0): number =>
  compareParts(partsOf(a), partsOf(b), startOf)

/** Each path is taken apart once, and not with each comparison: a log has a hundred thousand lines. */
function inOrder(lines: readonly OutlineLine[], startOf: (path: string) => number): OutlineLine[] {
  return lines
    .map((line) => ({ line, parts: partsOf(line.path) }))
    .sort((a, b) => compareParts(a.parts, b.parts, startOf))
    .map(({ line }) => line)
}

type Part = { part: string; name: string; rank: number; no: number; kind: number }
const partsOf = (path: string): Part[] => path.split('.').map(partOf)

function compareParts(as: readonly Part[], bs: readonly Part[], startOf: (path: string) => number): number {
  const [first, other] = [as[0]!, bs[0]!]
  const begun = first.rank - other.rank || first.no - other.no
  if (begun !== 0) return begun
  const phase = (PHASE_ORDER[first.name] ?? 9) - (PHASE_ORDER[other.name] ?? 9)
  if (phase !== 0) return phase
  for (let i = 1; i < Math.min(as.length, bs.length); i++) {
    const [x, y] = [as[i]!, bs[i]!]
    const difference = Number(x.name) - Number(y.name)
    // Undo steps run in reverse, and are shown as they run.
    if (difference !== 0) return first.name === 'undo' && i === 1 ? -difference : difference
    if (x.part !== y.part) {
      const [begunA, begunB] = [as, bs].map((parts) =>
        startOf(
          parts
            .slice(0, i + 1)
            .map(({ part }) => part)
            .join('.'),
        ),
      )
      return (begunA === begunB ? 0 : begunA! - begunB!) || x.rank - y.rank || x.no - y.no || x.kind - y.kind
    }
  }
  return as.length - bs.length
}

const PLAIN = /^\w+$/
/** "3", "3~1" (its first try), "3!1" (the recovery after that); what came last has no sign, and stands
 * last. */
function partOf(part: string): Part {
  if (PLAIN.test(part)) return { part, name: part, rank: 1, no: 0, kind: 0 }
  const found = /^(\w+)([~!])(\d+)$/.exec(part)
  return found
    ? { part, name: found[1]!, rank: 0, no: Number(found[3]), kind: found[2] === '~' ? 0 : 1 }
    : { part, name: part, rank: 1, no: 0, kind: 0 }
}

function markTheWay(lines: OutlineLine[]) {
  const putRight = new Set(lines.filter(({ recovery }) => recovery === 'put-right').map(({ path }) => path))
  const within = (path: string): boolean => {
    if (putRight.size === 0) return false
    for (let at = path; at.includes('.'); at = at.slice(0, at.lastIndexOf('.')))
      if (putRight.has(at)) return true
    return false
  }
  const bad = new Set(
    lines
      .filter(
        (line) =>
          (line.mark === 'failed' || line.mark === 'errored') &&
          !/[~!]/.test(line.path) &&
          !within(line.path),
      )
      .map((line) => line.path),
  )
  const parents = new Set([...bad].map((path) => path.slice(0, path.lastIndexOf('.'))))
  for (const line of lines) {
    line.onTheWay = bad.has(line.path)
    line.failing = bad.has(line.path) && !parents.has(line.path)
  }
}

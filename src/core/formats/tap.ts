/** TAP 12 to 14 (testanything.org/tap-version-14-specification), read line by line. */
import {
  Output,
  plain,
  ResultRefused,
  Tally,
  type ResultCase,
  type ResultParser,
  type ResultSummary,
} from './results'

const POINT = /^(not )?ok\b(?:\s+(\d+))?\s*(?:-\s*)?(.*)$/
const PLAN = /^1\.\.(\d+)\s*(?:#\s*(.*))?$/
const INDENT = 4
/** A plan of more is a slip of the pen; each announced case that is missing becomes one of ours. */
const PLAN_MOST = 1_000_000

/** The file, or a subtest in it. */
type Level = {
  name: string
  line: number
  plan?: { count: number; line: number }
  seen: Set<number>
  next: number
  indent: number
}
type Pending = ResultCase & { indent: number; out: Output; yaml?: { indent: number; line: number } }

export class TapParser implements ResultParser {
  private readonly tally: Tally
  private rest = ''
  private line = 0
  private readonly levels: Level[] = [{ name: '', line: 1, seen: new Set(), next: 1, indent: 0 }]
  private pending: Pending | undefined
  /** Names of subtests to come, with the indents of their comments: some write them where the subtest stands,
   * others one level above it. */
  private coming: { indent: number; name: string }[] = []
  private bailed: { line: number; why: string } | undefined
  /** A subtest that just ended: the point that follows sums it up, and is no case of its own. */
  private summedUp = false

  constructor(onCase: (result: ResultCase) => void) {
    this.tally = new Tally('tap', onCase)
    this.tally.suites = 1
  }

  write(text: string): void {
    const lines = (this.rest + text).split('\n')
    this.rest = lines.pop()!
    for (const line of lines) this.read(line)
  }

  end(): ResultSummary {
    if (this.rest !== '') this.read(this.rest)
    if (this.pending?.yaml)
      throw new ResultRefused(
        this.line,
        `it is cut off: the block of “${this.pending.name}” (line ${this.pending.yaml.line}) is not closed`,
      )
    this.finishPending()
    while (this.levels.length > 0) this.closeLevel()
    return this.tally.summary()
  }

  private read(raw: string): void {
    this.line++
    const line = plain(raw.replace(/\r$/, ''))
    if (this.bailed) return
    if (this.inYaml(line)) return
    const indent = /^ */.exec(line)![0].length
    const text = line.slice(indent)
    const bail = /^Bail out!\s*(.*)$/i.exec(text)
    if (bail) this.bailed = { line: this.line, why: bail[1]! }
    else if (text.startsWith('#')) this.comment(text, indent)
    else if (text === '---' && this.pending && indent > this.pending.indent)
      this.pending.yaml = { indent, line: this.line }
    else if (PLAN.test(text)) this.plan(text, indent)
    else if (/^(not )?ok\b/.test(text)) this.point(text, indent)
    else if (!/^(TAP version \d+|pragma [+-].*|)$/i.test(text)) this.pending?.out.add(`${line}\n`)
  }

  /** YAML beside a point: only how long it took, and what was said, matter to us. */
  private inYaml(line: string): boolean {
    const block = this.pending?.yaml
    if (!block) return false
    if (line.trim() === '...') delete this.pending!.yaml
    else {
      const duration = /^\s*duration_ms:\s*['"]?([\d.]+)/.exec(line)
      if (duration) this.pending!.ms = Number(duration[1]) || 0
      const message = /^\s*(?:message|error):\s*['"]?(.*?)['"]?\s*$/.exec(line)
      if (message && this.pending!.message === undefined && !/^[|>]/.test(message[1]!))
        this.pending!.message = message[1]
      this.pending!.out.add(`${line}\n`)
    }
    return true
  }

  private comment(text: string, indent: number): void {
    const subtest = /^#\s*Subtest(?::\s*(.*))?$/i.exec(text)
    if (subtest)
      this.coming = [...this.coming.filter((one) => one.indent < indent), { indent, name: subtest[1] ?? '' }]
    else this.pending?.out.add(`${text.replace(/^#\s?/, '')}\n`)
  }

  private plan(text: string, indent: number): void {
    const level = this.enter(indent)
    const [, count, reason] = PLAN.exec(text)!
    if (level.plan)
      return this.tally.problem(this.line, `a second plan: the first one, ${planText(level)}, counts`)
    if (Number(count) > PLAN_MOST)
      throw new ResultRefused(this.line, `it announces ${count} cases, more than ${PLAN_MOST}`)
    this.finishPending()
    level.plan = { count: Number(count), line: this.line }
    if (count === '0' && reason)
      this.tally.problem(
        this.line,
        `nothing was run: ${reason.replace(/^skip\S*\s*/i, '') || 'no reason given'}`,
      )
  }

  private point(text: string, indent: number): void {
    const level = this.enter(indent)
    this.finishPending()
    const [, not, number, rest] = POINT.exec(text)!
    const n = number === undefined ? level.next : Number(number)
    level.next = n + 1
    if (level.seen.has(n)) this.tally.problem(this.line, `number ${n} was given before`)
    level.seen.add(n)
    if (this.summedUp) {
      this.summedUp = false
      return
    }
    const { name, directive, reason, ms } = described(rest!)
    const isSkipped = directive === 'skip' || (directive === 'todo' && not)
    const ran = not ? 'failed' : 'passed'
    const outcome = isSkipped ? 'skipped' : ran
    this.pending = {
      suites: this.levels.map((one) => one.name).filter(Boolean),
      name: name || `case ${n}`,
      line: this.line,
      outcome,
      ms,
      properties: {},
      attachments: [],
      indent,
      out: new Output(),
      ...(reason && { message: reason }),
    }
  }

  /** The level of an indent: deeper opens a subtest, shallower closes those below. */
  private enter(indent: number): Level {
    let top = this.levels.at(-1)!
    for (const { name, indent: its } of this.levelsUpTo(indent, top.indent)) {
      this.finishPending()
      top = { name, line: this.line, seen: new Set(), next: 1, indent: its }
      this.levels.push(top)
      this.tally.suites++
    }
    this.coming = []
    while (indent < top.indent && this.levels.length > 1) {
      this.finishPending()
      this.closeLevel()
      this.summedUp = true
      top = this.levels.at(-1)!
    }
    return top
  }

  /** The subtests that a line of an indent opens, outermost first: several, where one begins with another. */
  private levelsUpTo(indent: number, from: number): { name: string; indent: number }[] {
    if (indent < from + INDENT) return []
    const coming = this.coming.filter((one) => one.indent >= from && one.indent <= indent)
    if (coming.length === 0) return [{ name: '', indent }]
    const isAbove = coming.at(-1)!.indent < indent
    return coming.map(({ name, indent: own }, i) => ({
      name,
      indent: isAbove ? (coming[i + 1]?.indent ?? indent) : own,
    }))
  }

  private finishPending(): void {
    if (!this.pending) return
    const { indent: _, out, yaml: __, ...result } = this.pending
    this.pending = undefined
    this.tally.add({ ...result, attachments: out.attachments, ...(out.text && { output: out.text }) })
  }

  /** What was announced and did not come. */
  private closeLevel(): void {
    const level = this.levels.at(-1)!
    const count = level.plan?.count
    const missing = Array.from({ length: count ?? 0 }, (_, i) => i + 1).filter((n) => !level.seen.has(n))
    const suites = this.levels.map((one) => one.name).filter(Boolean)
    for (const n of missing)
      this.tally.add({
        suites,
        name: `case ${n}`,
        line: this.bailed?.line ?? this.line,
        outcome: this.bailed ? 'cancelled' : 'errored',
        ms: 0,
        message: this.bailed ? `Bail out: ${this.bailed.why}` : 'announced, but missing',
        properties: {},
        attachments: [],
      })
    if (this.bailed && this.levels.length === 1)
      this.tally.problem(
        this.bailed.line,
        `Bail out: ${this.bailed.why || 'no reason given'}${missing.length > 0 ? `; ${missing.length} cancelled` : ''}`,
      )
    if (!this.bailed) {
      if (missing.length > 0)
        this.tally.problem(this.line, `${planText(level)} announced, missing: ${some(missing)}`)
      const beyond = count === undefined ? [] : [...level.seen].filter((n) => n < 1 || n > count)
      if (beyond.length > 0)
        this.tally.problem(this.line, `more than ${planText(level)} announced: ${some(beyond)}`)
      if (count === undefined)
        this.tally.problem(this.line, 'there is no plan, so nobody knows whether all came')
    }
    this.levels.pop()
  }
}

const planText = (level: Level) => `1..${level.plan!.count}`
const some = (numbers: number[]) =>
  `${numbers.slice(0, 10).join(', ')}${numbers.length > 10 ? `, and ${numbers.length - 10} more` : ''}`

/** Name, directive and time of a point: "a name # TODO later", "a name # time=3.2ms". An escaped \# is part
 * of the name. */
function described(rest: string): { name: string; directive?: 'todo' | 'skip'; reason?: string; ms: number } {
  const parts = rest.split(/(?<!\\)#/)
  const name = parts[0]!.trim().replaceAll('\\#', '#').replaceAll('\\\\', '\\')
  let ms = 0
  for (const part of parts.slice(1)) {
    const directive = /^\s*(todo|skip)\S*\s*(.*)$/i.exec(part)
    const time = /\btime=([\d.]+)(ms|s)\b/.exec(part)
    if (time) ms = Number(time[1]) * (time[2] === 's' ? 1000 : 1)
    if (directive)
      return {
        name,
        directive: directive[1]!.toLowerCase() as 'todo' | 'skip',
        reason: directive[2]!.trim(),
        ms,
      }
  }
  return { name, ms }
}

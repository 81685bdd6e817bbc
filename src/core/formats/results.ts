/** Result files of other tools: what is read from them, and how it is counted. */
import type { Outcome } from '../execution/outcomes'

/** One case of a result file, as it is handed on while the file is still being read. */
/** The build of results that nobody said one of. */
export const UNKNOWN_BUILD = 'unknown'

export type ResultCase = {
  /** Names of the suites it stands in, outermost first. */
  suites: string[]
  name: string
  className?: string
  file?: string
  /** Line in the result file, from 1. */
  line: number
  outcome: Outcome
  ms: number
  message?: string
  type?: string
  detail?: string
  output?: string
  errorOutput?: string
  properties: Record<string, string>
  /** Paths the output refers to; the files themselves stay where they are. */
  attachments: string[]
}
/** A suite of a result file, told when it is complete: what it says of itself, and what was found in it,
 * suites inside it included. */
export type ResultSuite = {
  /** Names, outermost first. */
  path: string[]
  line: number
  cases: number
  /** Of the file; of its cases together, where that says none. */
  ms: number
  announced: Partial<Record<'tests' | 'failures' | 'errors', number>>
  properties: Record<string, string>
}
export type ResultProblem = { line: number; what: string }
export type ResultSummary = {
  format: 'junit' | 'tap'
  suites: number
  cases: number
  outcomes: Record<'passed' | 'recovered' | 'failed' | 'errored' | 'skipped' | 'cancelled', number>
  /** All cases together. */
  ms: number
  attachments: number
  problems: ResultProblem[]
}

/** The file is not read: nothing of it counts. `line` is where that was seen, from 1. */
export class ResultRefused extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message)
  }
}

/** Takes a file piece by piece. @throws {ResultRefused} by both */
export interface ResultParser {
  write(text: string): void
  end(): ResultSummary
}

/** Texts longer than this are cut: what a case printed is for reading, not for keeping whole. */
export const RESULT_TEXT_CHARS = 64_000
/** More problems than this are counted in the last one. */
const PROBLEMS_MOST = 200

/** Counts cases as they come, and hands them on. */
export class Tally {
  suites = 0
  private cases = 0
  private readonly outcomes = { passed: 0, recovered: 0, failed: 0, errored: 0, skipped: 0, cancelled: 0 }
  private ms = 0
  private attachments = 0
  private readonly problems: ResultProblem[] = []
  private unnamed = 0

  constructor(
    private readonly format: ResultSummary['format'],
    private readonly onCase: (result: ResultCase) => void,
  ) {}

  add(result: ResultCase): void {
    this.cases++
    this.outcomes[result.outcome]++
    this.ms += result.ms
    this.attachments += result.attachments.length
    this.onCase(result)
  }
  problem(line: number, what: string): void {
    if (this.problems.length < PROBLEMS_MOST) this.problems.push({ line, what })
    else this.unnamed++
  }
  summary(): ResultSummary {
    const { format, suites, cases, outcomes, attachments } = this
    const last = this.problems.at(-1)
    const problems =
      this.unnamed > 0 && last
        ? [...this.problems, { line: last.line, what: `and ${this.unnamed} more` }]
        : this.problems
    return {
      format,
      suites,
      cases,
      outcomes: { ...outcomes },
      ms: Math.round(this.ms),
      attachments,
      problems: [...problems].sort((a, b) => a.line - b.line),
    }
  }
}

/** Text of unknown length: kept up to a limit, looked through for attachments to the end. */
export class Output {
  private kept = ''
  private tail = ''
  readonly attachments: string[] = []

  add(piece: string): void {
    const clean = plain(piece)
    if (this.kept.length < RESULT_TEXT_CHARS)
      this.kept += clean.slice(0, RESULT_TEXT_CHARS - this.kept.length)
    const text = this.tail + clean
    let read = 0
    for (const found of text.matchAll(ATTACHMENT)) {
      this.attachments.push(found[1]!.trim())
      read = found.index + found[0].length
    }
    const open = text.lastIndexOf('[[', text.length)
    this.tail =
      open >= read && text.length - open < ATTACHMENT_CHARS
        ? text.slice(open)
        : text.slice(Math.max(read, text.length - 1))
  }
  get text(): string | undefined {
    const trimmed = this.kept.trim()
    return trimmed === '' ? undefined : trimmed
  }
}
const ATTACHMENT_CHARS = 2000
const ATTACHMENT = /\[\[ATTACHMENT\|([^\]]{1,1900})\]\]/g

const UNPRINTABLE = /\u001b\[[0-9;?]*[A-Za-z]|[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g

/** Colours of a terminal and other unprintable characters are no part of what was said. */
export const plain = (text: string): string => text.replace(UNPRINTABLE, '')

/** Milliseconds of written seconds. A comma is the decimal sign where no dot follows it: `0,532` and
 * `1,234.5` are both read.
 * @returns `undefined` for what is no number */
export function writtenSecondsMs(written: string | undefined): number | undefined {
  const text = (written ?? '').replace(/[\s\u00a0\u202f'_]/g, '')
  if (text === '') return 0
  const commas = text.split(',').length - 1
  const dots = text.split('.').length - 1
  const decimalComma = commas === 1 && (dots === 0 || text.lastIndexOf(',') > text.lastIndexOf('.'))
  const withoutComma = dots > 1 ? text.replace(/[.,]/g, '') : text.replaceAll(',', '')
  const number = decimalComma ? text.replaceAll('.', '').replace(',', '.') : withoutComma
  const seconds = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(number) ? Number(number) : NaN
  return Number.isFinite(seconds) && seconds >= 0 ? seconds * 1000 : undefined
}

/** JUnit XML, read as a stream: memory does not grow with the file. */
import sax from 'sax'
import {
  Output,
  plain,
  ResultRefused,
  RESULT_TEXT_CHARS,
  Tally,
  writtenSecondsMs,
  type ResultCase,
  type ResultParser,
  type ResultSuite,
  type ResultSummary,
} from './results'

/** Deeper suites are no suites but an attack on the stack of whoever reads them. */
const DEPTH_MOST = 200
/** One attribute may be this long; longer text nodes come in pieces. */
const BUFFER_CHARS = 2_000_000

const NOT_RUN = new Set(['notrun', 'skipped', 'disabled', 'ignored', 'suppressed'])
const FAULTS: Record<string, 'failed' | 'errored'> = { failure: 'failed', error: 'errored' }
const RERUNS = new Set(['flakyFailure', 'flakyError', 'rerunFailure', 'rerunError'])

/** References to characters that XML forbids: programs write them all the same, so they are dropped, not
 * refused. */
const CONTROL_REFERENCE = /&#(?:0*(?:[0-8]|1[1-24-9]|2\d|3[01])|[xX]0*(?:[0-8bcefBCEF]|1[0-9a-fA-F]));/g
const ESCAPE = /^&#(0*27|[xX]0*1[bB]);$/
const HALF_REFERENCE = /&#?[xX\da-fA-F]{0,10}$/

type Open = ResultCase & {
  notRun: boolean
  skipped: boolean
  fault?: 'failed' | 'errored'
  flaky: boolean
  detailText: string
  out: Output
  err: Output
}
type Attributes = Record<string, string>
type Counts = { cases: number; failed: number; errored: number; ms: number }
/** A suite that is open: counts of its own cases, and of all in it. */
type OpenSuite = Omit<ResultSuite, 'cases' | 'ms'> & { saidMs: number | undefined; own: Counts; all: Counts }

const NO_COUNTS: Counts = { cases: 0, failed: 0, errored: 0, ms: 0 }
const PROPERTIES_MOST = 200

export class JUnitParser implements ResultParser {
  private readonly sax = sax.parser(true, {
    trim: false,
    normalize: false,
    position: true,
    strictEntities: true,
  } as sax.SAXOptions)
  private readonly tally: Tally
  /** The beginning of a character reference, until its end comes. */
  private held = ''
  private readonly path: string[] = []
  private readonly suites: OpenSuite[] = []
  private testCase: Open | undefined

  constructor(
    onCase: (result: ResultCase) => void,
    private readonly onSuite: (suite: ResultSuite) => void = () => {},
  ) {
    this.tally = new Tally('junit', onCase)
    // a setting of the library that its types forget
    ;(sax as { MAX_BUFFER_LENGTH?: number }).MAX_BUFFER_LENGTH = BUFFER_CHARS
    this.sax.onerror = (error) => this.refuse(worded(error.message))
    this.sax.ondoctype = (doctype) => {
      if (/<!ENTITY/i.test(doctype)) this.refuse('it declares entities, which are not read')
    }
    this.sax.onopentag = ({ name, attributes }) => this.open(name, attributes as Attributes)
    this.sax.onclosetag = (name) => this.close(name)
    this.sax.ontext = (text) => this.text(text)
    this.sax.oncdata = (text) => this.text(text)
  }

  write(text: string): void {
    const all = this.held + text
    const half = HALF_REFERENCE.exec(all)?.index ?? all.length
    this.held = all.slice(half)
    this.sax.write(
      all.slice(0, half).replace(CONTROL_REFERENCE, (reference) => (ESCAPE.test(reference) ? '\u001b' : '')),
    )
  }
  end(): ResultSummary {
    if (this.held !== '') this.sax.write(this.held)
    const line = this.sax.line + 1
    if (this.path.length > 0)
      throw new ResultRefused(line, `it is cut off: <${this.path.at(-1)}> is not closed`)
    this.sax.close()
    if (this.tally.suites === 0 && !this.rootSeen)
      throw new ResultRefused(line, 'it is not a result file: there is nothing in it')
    return this.tally.summary()
  }

  private rootSeen = false
  private get line(): number {
    return this.sax.line + 1
  }
  private refuse(message: string): never {
    throw new ResultRefused(this.line, message)
  }

  private open(name: string, attributes: Attributes): void {
    if (this.path.length === 0 && name !== 'testsuites' && name !== 'testsuite')
      this.refuse(`it is not a result file: its root is <${name}>, expected <testsuites> or <testsuite>`)
    if (this.path.length >= DEPTH_MOST) this.refuse(`elements are nested deeper than ${DEPTH_MOST}`)
    this.rootSeen = true
    this.path.push(name)
    if (name === 'testsuite' || name === 'testsuites') this.openSuite(name, attributes)
    else if (name === 'testcase' && !this.testCase) this.openCase(attributes)
    else if (this.testCase) this.openInCase(this.testCase, name, attributes)
    else if (name === 'property') this.property(attributes)
  }

  private openSuite(element: string, { name = '', time, ...counts }: Attributes): void {
    if (element === 'testsuite') this.tally.suites++
    this.suites.push({
      path: [...this.suiteNames(), ...(element === 'testsuite' && name !== '' ? [plain(name)] : [])],
      line: this.line,
      saidMs: time === undefined ? undefined : writtenSecondsMs(time),
      announced: announced(counts),
      properties: {},
      own: { ...NO_COUNTS },
      all: { ...NO_COUNTS },
    })
  }

  private suiteNames = (): string[] => this.suites.at(-1)?.path ?? []

  private property({ name, value = '' }: Attributes): void {
    const suite = this.suites.at(-1)
    if (suite && name && Object.keys(suite.properties).length < PROPERTIES_MOST)
      suite.properties[name] = plain(value).slice(0, RESULT_TEXT_CHARS)
  }

  private closeSuite(element: string): void {
    const { own, all, saidMs, ...suite } = this.suites.pop()!
    const above = this.suites.at(-1)
    if (above) for (const key of Object.keys(all) as (keyof Counts)[]) above.all[key] += all[key]
    // Some count what stands in suites inside, others do not.
    for (const [what, key, words] of COUNTED) {
      const said = suite.announced[what]
      if (said !== undefined && said !== own[key] && said !== all[key])
        this.tally.problem(
          suite.line,
          `${suite.path.length > 0 ? `“${suite.path.at(-1)}”` : 'the file'} announces ${said} ` +
            `${words}, found: ${all[key]}`,
        )
    }
    if (element === 'testsuite')
      this.onSuite({ ...suite, cases: all.cases, ms: Math.round(saidMs ?? all.ms) })
  }

  private openCase(attributes: Attributes): void {
    const { name, classname, file, time, status, result } = attributes
    if (!name) this.tally.problem(this.line, 'a case has no name')
    const ms = writtenSecondsMs(time)
    if (ms === undefined)
      this.tally.problem(this.line, `the time “${time}” of “${name}” is no number; taken as 0`)
    this.testCase = {
      suites: [...this.suiteNames()],
      name: plain(name ?? ''),
      line: this.line,
      outcome: 'passed',
      ms: ms ?? 0,
      properties: {},
      attachments: [],
      ...(classname && { className: plain(classname) }),
      ...(file && { file: plain(file) }),
      notRun: NOT_RUN.has((status ?? '').toLowerCase()) || NOT_RUN.has((result ?? '').toLowerCase()),
      skipped: false,
      flaky: false,
      detailText: '',
      out: new Output(),
      err: new Output(),
    }
  }

  private openInCase(open: Open, name: string, attributes: Attributes): void {
    const fault = FAULTS[name]
    if (fault && open.fault === undefined) {
      open.fault = fault
      open.message =
        attributes.message === undefined ? undefined : plain(attributes.message).slice(0, RESULT_TEXT_CHARS)
      open.type = attributes.type
    } else if (name === 'skipped') {
      open.skipped = true
      if (open.fault === undefined && attributes.message)
        open.message = plain(attributes.message).slice(0, RESULT_TEXT_CHARS)
    } else if (RERUNS.has(name)) open.flaky = true
    else if (name === 'property' && attributes.name)
      open.properties[attributes.name] = plain(attributes.value ?? '').slice(0, RESULT_TEXT_CHARS)
  }

  private count(outcome: ResultCase['outcome'], ms: number): void {
    const suite = this.suites.at(-1)
    if (!suite) return
    for (const counts of [suite.own, suite.all]) {
      counts.cases++
      counts.ms += ms
      if (outcome === 'failed') counts.failed++
      if (outcome === 'errored') counts.errored++
    }
  }

  private text(text: string): void {
    const open = this.testCase
    if (!open) return
    const inside = this.path.at(-1)!
    if (inside in FAULTS)
      open.detailText += text.slice(0, Math.max(0, RESULT_TEXT_CHARS - open.detailText.length))
    // Output counts where the case itself stands: that of a rerun belongs to the rerun.
    else if (this.path.at(-2) === 'testcase' && inside === 'system-out') open.out.add(text)
    else if (this.path.at(-2) === 'testcase' && inside === 'system-err') open.err.add(text)
  }

  private close(name: string): void {
    this.path.pop()
    if (name === 'testsuite' || name === 'testsuites') this.closeSuite(name)
    if (name !== 'testcase' || !this.testCase || this.path.includes('testcase')) return
    const { notRun, skipped, fault, flaky, detailText, out, err, ...result } = this.testCase
    this.testCase = undefined
    const withoutFault = flaky ? 'recovered' : 'passed'
    const outcome = fault ?? (skipped || notRun ? 'skipped' : withoutFault)
    const detail = plain(detailText).trim()
    this.count(outcome, result.ms)
    this.tally.add({
      ...result,
      outcome,
      attachments: [...out.attachments, ...err.attachments],
      ...(detail && { detail }),
      ...(out.text && { output: out.text }),
      ...(err.text && { errorOutput: err.text }),
    })
  }
}

/** What is compared of a suite's own words, by what it counts. */
const COUNTED = [
  ['tests', 'cases', 'cases'],
  ['failures', 'failed', 'failures'],
  ['errors', 'errored', 'errors'],
] as const

const announced = (attributes: Attributes): ResultSuite['announced'] =>
  Object.fromEntries(
    COUNTED.flatMap(([what]) =>
      /^\d{1,9}$/.test(attributes[what] ?? '') ? [[what, Number(attributes[what])]] : [],
    ),
  )

function worded(message: string): string {
  const first = message.split('\n')[0]!
  if (/entity/i.test(first)) return 'it uses an entity that is not one of XML’s own; entities are not read'
  if (/unclosed|unexpected end/i.test(first)) return `it is cut off: ${first.toLowerCase()}`
  return `it is not sound XML: ${first.toLowerCase()}`
}

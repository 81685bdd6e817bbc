/** Which kind of result file it is, by how it begins. */
import { JUnitParser } from './junit'
import {
  ResultRefused,
  type ResultCase,
  type ResultParser,
  type ResultSuite,
  type ResultSummary,
} from './results'
import { TapParser } from './tap'

/** Text before the first sign of a format may be this long: programs talk before they begin. */
const LOOK_CHARS = 100_000
const TAP_LINE = /^(TAP version \d+|\s*1\.\.\d+|\s*(not )?ok\b|Bail out!)/im

/** Reads a file of either format. @throws {ResultRefused} from `write` and `end` */
export class ResultReader implements ResultParser {
  private begin = ''
  private parser: ResultParser | undefined

  constructor(
    private readonly onCase: (result: ResultCase) => void,
    private readonly onSuite: (suite: ResultSuite) => void = () => {},
  ) {}

  write(text: string): void {
    if (this.parser) return this.parser.write(text)
    this.begin += text
    if (/\S/.test(this.begin.replace(/^\uFEFF/, ''))) this.choose(false)
  }

  end(): ResultSummary {
    if (!this.parser) this.choose(true)
    return this.parser!.end()
  }

  private choose(atEnd: boolean): void {
    const text = this.begin.replace(/^\uFEFF/, '')
    const start = text.trimStart()
    if (start.startsWith('<')) this.parser = new JUnitParser(this.onCase, this.onSuite)
    else if (TAP_LINE.test(text)) this.parser = new TapParser(this.onCase)
    else if (atEnd || text.length > LOOK_CHARS)
      throw new ResultRefused(
        1,
        start === ''
          ? 'it is not a result file: it is empty'
          : 'it is not a result file: neither JUnit XML nor TAP',
      )
    else return
    this.begin = ''
    this.parser.write(text)
  }
}

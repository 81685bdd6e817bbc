/** Reads result files, for tests. */
import { ResultReader, ResultRefused, type ResultCase, type ResultSuite } from '..'

/** @param pieces the text as it comes, in one piece or in several */
export function read(text: string, pieces = [text]) {
  const cases: ResultCase[] = []
  const suites: ResultSuite[] = []
  const reader = new ResultReader(
    (result) => void cases.push(result),
    (one) => void suites.push(one),
  )
  for (const piece of pieces) reader.write(piece)
  return { summary: reader.end(), cases, suites }
}

/** What is said of a file that is refused, with its line. */
export function refusal(text: string): string {
  try {
    read(text)
  } catch (error) {
    if (error instanceof ResultRefused) return `${error.line}: ${error.message}`
    throw error
  }
  return 'not refused'
}

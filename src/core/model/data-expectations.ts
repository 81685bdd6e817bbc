/** What steps that ask services and databases expect, each with the words in which its failure is told. */
import type { Matcher, StepOf } from './types'

export const ANOTHER_STATUS = 'The answer has another status'
export const ROW_COUNT = 'The number of rows'
export const FIRST_CELL = 'The value'
export const columnName = (column: string) => `“${column}”`
export const notAsExpected = (what: string) => `${what} is not as expected`
/** What is told instead of what was found. */
export const NO_ROWS = 'no rows'
export const NOTHING_THERE = 'nothing there'

export type Expectation = {
  message: string
  /** In the step, as its file has it. */
  path: readonly string[]
  matcher: Matcher
  /** It is written as the number itself. */
  isPlain?: true
  /** It may stand for several values, of which one has to be right. */
  isMany?: true
}

/** A path (RFC 9535) that can lead to more than one place. */
const MANY = /\*|\.\.|\?|:|,/

export function expectationsOf(step: StepOf<'call'> | StepOf<'query'>): Expectation[] {
  return step.verb === 'call' ? ofCall(step) : ofQuery(step)
}

function ofCall({ expect: { status, json = {} } = {} }: StepOf<'call'>): Expectation[] {
  return [
    ...(status === undefined ? [] : [plain(ANOTHER_STATUS, ['call', 'expect', 'status'], status)]),
    ...Object.entries(json).map(([at, matcher]) => ({
      message: notAsExpected(at),
      path: ['call', 'expect', 'json', at],
      matcher,
      ...(MANY.test(at) && { isMany: true as const }),
    })),
  ]
}

function ofQuery({ expect: { rows, value, columns = {} } = {} }: StepOf<'query'>): Expectation[] {
  const at = (...path: string[]) => ['query', 'expect', ...path]
  const count = notAsExpected(ROW_COUNT)
  return [
    ...(typeof rows === 'number' ? [plain(count, at('rows'), rows)] : []),
    ...(typeof rows === 'object' ? [{ message: count, path: at('rows'), matcher: rows }] : []),
    ...(value === undefined
      ? []
      : [{ message: notAsExpected(FIRST_CELL), path: at('value'), matcher: value }]),
    ...Object.entries(columns).map(([column, matcher]) => ({
      message: notAsExpected(columnName(column)),
      path: at('columns', column),
      matcher,
    })),
  ]
}

const plain = (message: string, path: string[], value: number): Expectation => ({
  message,
  path,
  matcher: { equals: value },
  isPlain: true,
})

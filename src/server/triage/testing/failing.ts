/** Three cases whose checks look for two different things, and how one of them fails: two causes. */
import type { Failure } from '@/core/execution'
import { simpleSuite } from '../../testing/context'

const checks = (key: string, target: string) =>
  `case: ${key}\ntitle: ${key.toUpperCase()}\nsteps:\n  - open: booking:/\n  - check: { of: { testId: ${target} }, text: { equals: so } }\n`

export const FAILING_FILES = {
  'a.case.yaml': checks('a', 'fare'),
  'b.case.yaml': checks('b', 'count'),
  'c.case.yaml': checks('c', 'count'),
  'all.suite.yaml': simpleSuite('all', ['a', 'b', 'c']),
}
export const CHECK_FAILED: Failure = {
  kind: 'check',
  path: 'main.1',
  message: 'The text is not what was expected',
}

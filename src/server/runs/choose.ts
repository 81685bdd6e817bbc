/** What a start names, as a suite: a suite, a tag expression, or a handful of cases. */
import { flatten, parseRule, type Flattened, type Suite, type SuiteEntry } from '@/core/model'
import type { Loaded } from '../definitions'
import { Problem } from '../http/problems'

/** Exactly one of the first three. `row`: only this row of each table, from 1. `with`: values over those of suites and cases. */
export type Choice = { suite?: string; rule?: string; cases?: string[]; row?: number; with?: Record<string, string> }

const CHOSEN = 'chosen'

/** @throws {Problem} NOT_FOUND, BODY_INVALID */
export function chosenSuite(choice: Choice, library: Loaded): Suite {
  const { suite: key, rule, cases } = choice
  if ([key, rule, cases].filter((one) => one !== undefined).length !== 1) throw new Problem('BODY_INVALID', 'A start names a suite, a rule or cases: exactly one of them.')
  if (key !== undefined) {
    const suite = library.suite(key)
    if (!suite) throw new Problem('NOT_FOUND', `There is no suite “${key}”.`)
    return suite
  }
  if (rule !== undefined) {
    const read = parseRule(rule)
    if ('message' in read) throw new Problem('BODY_INVALID', `The rule cannot be read: ${read.message}.`, { at: read.at })
    return { kind: 'suite', key: `rule: ${rule}`, title: rule, entries: [], rule }
  }
  const missing = cases!.find((one) => !library.case(one))
  if (missing !== undefined) throw new Problem('NOT_FOUND', `There is no case “${missing}”.`)
  const entries = cases!.map((one): SuiteEntry => ({ case: one, off: false, repeat: 1, with: {}, after: [], entries: [] }))
  const [first] = cases!
  return { kind: 'suite', key: cases!.length === 1 ? `case: ${first}` : CHOSEN, title: cases!.length === 1 ? library.case(first!)!.title : `${cases!.length} chosen cases`, entries }
}

/** What of it will run. @throws {Problem} NOTHING_TO_RUN */
export function chosenItems(choice: Choice, suite: Suite, library: Loaded): Flattened {
  const { items, leftOut } = flatten(suite, library)
  const kept = choice.row === undefined ? items : items.filter(({ row }) => row === undefined || row.index === choice.row)
  if (kept.length === 0) {
    const why = items.length > 0 ? `there is no row ${choice.row}` : leftOut.map((out) => `${out.title} (${out.why})`).join('; ') || 'it is empty'
    throw new Problem('NOTHING_TO_RUN', `Nothing of “${suite.title}” would run: ${why}.`)
  }
  return { items: kept.map((item) => ({ ...item, with: { ...item.with, ...choice.with } })), leftOut }
}

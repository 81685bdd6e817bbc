/** What a start names, as a suite: a suite, a tag expression, a handful of cases, or several of these in
 * order. */
import {
  casesByRule,
  flatten,
  parseRule,
  plainEntry,
  type Flattened,
  type RotationPart,
  type Rule,
  type Suite,
  type SuiteEntry,
} from '@/core/model'
import type { Loaded } from '../definitions'
import { Problem } from '../http/problems'

/** Exactly one of the first four. `row`: only this row of each table, from 1. `with`: values over those of
 * suites and cases. */
export type Choice = {
  suite?: string
  rule?: string
  cases?: string[]
  /** Each of these so often. */
  times?: number
  parts?: readonly RotationPart[]
  row?: number
  with?: Record<string, string>
}

const CHOSEN = 'chosen'

/** @throws {Problem} NOT_FOUND, BODY_INVALID */
export function chosenSuite(choice: Choice, library: Loaded): Suite {
  const { suite: key, rule, cases, parts, times = 1 } = choice
  if ([key, rule, cases, parts].filter((one) => one !== undefined).length !== 1)
    throw new Problem('BODY_INVALID', 'A start names a suite, a rule or cases: exactly one of them.')
  if (key !== undefined) return suiteOf(key, library)
  if (rule !== undefined) {
    readRule(rule)
    return { kind: 'suite', key: `rule: ${rule}`, title: rule, entries: [], rule }
  }
  if (parts) return suiteOfParts(parts, library)
  const [first] = cases!
  return {
    kind: 'suite',
    key: cases!.length === 1 ? `case: ${first}` : CHOSEN,
    title: cases!.length === 1 ? caseOf(first!, library).title : `${cases!.length} chosen cases`,
    entries: cases!.map((one) => ({ ...plainEntry({ case: caseOf(one, library).key }), repeat: times })),
  }
}

/** Several parts become one suite, in their order; one part stands for itself, so that its history goes
 * on. */
function suiteOfParts(parts: readonly RotationPart[], library: Loaded): Suite {
  const [only] = parts
  if (parts.length === 1 && only) return chosenSuite('case' in only ? { cases: [only.case] } : only, library)
  const entries = parts.map((part): SuiteEntry => {
    if ('suite' in part) return plainEntry({ suite: suiteOf(part.suite, library).key })
    if ('case' in part) return plainEntry({ case: caseOf(part.case, library).key })
    return {
      ...plainEntry({ group: part.rule }),
      entries: casesByRule(readRule(part.rule), library).map((one) => plainEntry({ case: one.key })),
    }
  })
  return {
    kind: 'suite',
    key: CHOSEN,
    title: parts.length === 0 ? 'nothing' : `${parts.length} parts`,
    entries,
  }
}

function suiteOf(key: string, library: Loaded): Suite {
  const suite = library.suite(key)
  if (!suite) throw new Problem('NOT_FOUND', `There is no suite “${key}”.`)
  return suite
}

function caseOf(key: string, library: Loaded) {
  const found = library.case(key)
  if (!found) throw new Problem('NOT_FOUND', `There is no case “${key}”.`)
  return found
}

function readRule(text: string): Rule {
  const read = parseRule(text)
  if ('message' in read)
    throw new Problem('BODY_INVALID', `The rule cannot be read: ${read.message}.`, { at: read.at })
  return read
}

/** What of it will run. @throws {Problem} NOTHING_TO_RUN */
export function chosenItems(choice: Choice, suite: Suite, library: Loaded): Flattened {
  const { items, leftOut } = flatten(suite, library)
  const kept =
    choice.row === undefined
      ? items
      : items.filter(({ row }) => row === undefined || row.index === choice.row)
  if (kept.length === 0) {
    const why =
      items.length > 0
        ? `there is no row ${choice.row}`
        : leftOut.map((out) => `${out.title} (${out.why})`).join('; ') || 'it is empty'
    throw new Problem('NOTHING_TO_RUN', `Nothing of “${suite.title}” would run: ${why}.`)
  }
  return { items: kept.map((item) => ({ ...item, with: { ...item.with, ...choice.with } })), leftOut }
}

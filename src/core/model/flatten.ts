/** From a suite's tree to the flat list of what will run, in order, with reasons for what will not. */
import type { Row, Suite, SuiteEntry, TestCase } from './types'

/** One case (one row, one repetition) of a suite, before environments are chosen. */
export type FlatItem = {
  caseKey: string
  /** Its name in this suite: the entry's own, else the case's title. */
  title: string
  /** Titles of the suites and groups it stands in, outermost first. */
  groups: string[]
  row?: { index: number; of: number; values: Row }
  repetition?: { index: number; of: number }
  with: Record<string, string>
  limitMs?: number
}
export type LeftOut = { title: string; groups: string[]; why: string }
export type Flattened = { items: FlatItem[]; leftOut: LeftOut[] }

export type Library = { case(key: string): TestCase | undefined; suite(key: string): Suite | undefined; rows(testCase: TestCase): Row[] | undefined }

type Above = { groups: string[]; with: Record<string, string>; off?: string; suites: string[] }

/** Walks the tree. A suite that holds itself, a missing case and a missing table are left out by name; nothing throws. */
export function flatten(suite: Suite, library: Library): Flattened {
  const items: FlatItem[] = []
  const leftOut: LeftOut[] = []
  const drop = (title: string, groups: string[], why: string) => void leftOut.push({ title, groups, why })

  const visit = (entry: SuiteEntry, above: Above) => {
    const off = above.off ?? (entry.off ? 'switched off' : undefined)
    const below = { ...above, off: entry.off ? (above.off ?? `“${nameOf(entry, library)}” is switched off`) : above.off, with: { ...above.with, ...entry.with } }
    if (entry.case !== undefined) addCase(entry, { ...below, off })
    else if (entry.suite !== undefined) addSuite(entry, below)
    else entry.entries.forEach((child) => visit(child, { ...below, groups: [...above.groups, entry.name ?? entry.group!] }))
  }

  const addSuite = (entry: SuiteEntry, above: Above) => {
    const inner = library.suite(entry.suite!)
    const title = entry.name ?? inner?.title ?? entry.suite!
    if (!inner) return drop(title, above.groups, `suite “${entry.suite}” is not there`)
    if (above.suites.includes(inner.key)) return drop(title, above.groups, `it holds itself: ${[...above.suites, inner.key].join(' → ')}`)
    const inside = { ...above, groups: [...above.groups, title], suites: [...above.suites, inner.key] }
    for (let i = 0; i < entry.repeat; i++) inner.entries.forEach((child) => visit(child, inside))
  }

  const addCase = (entry: SuiteEntry, above: Above) => {
    const testCase = library.case(entry.case!)
    const title = entry.name ?? testCase?.title ?? entry.case!
    if (!testCase) return drop(title, above.groups, `case “${entry.case}” is not there`)
    if (above.off) return drop(title, above.groups, above.off)
    const rows = library.rows(testCase)
    if (testCase.data && !rows) return drop(title, above.groups, `data “${testCase.data}” is not there`)
    if (rows?.length === 0) return drop(title, above.groups, `data “${testCase.data}” has no rows`)
    const limitMs = entry.limitMs ?? testCase.limitMs
    for (let i = 1; i <= entry.repeat; i++) {
      for (const [r, values] of (rows ?? [undefined]).entries()) {
        items.push({
          caseKey: testCase.key,
          title,
          groups: above.groups,
          ...(values && { row: { index: r + 1, of: rows!.length, values } }),
          ...(entry.repeat > 1 && { repetition: { index: i, of: entry.repeat } }),
          with: above.with,
          ...(limitMs !== undefined && { limitMs }),
        })
      }
    }
  }

  suite.entries.forEach((entry) => visit(entry, { groups: [], with: {}, suites: [suite.key] }))
  return { items, leftOut }
}

const nameOf = (entry: SuiteEntry, library: Library) => entry.name ?? entry.group ?? (entry.suite ? library.suite(entry.suite)?.title : library.case(entry.case!)?.title) ?? entry.suite ?? entry.case ?? ''

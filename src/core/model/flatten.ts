/** From a suite's tree to the flat list of what will run, in order, with reasons for what will not. */
import { ordered } from './order'
import { columnsOf } from './row-and-handoffs'
import { parseRule, ruleHolds, type Rule } from './rules'
import { PRIORITIES, type OnFailure, type Row, type Suite, type SuiteEntry, type TestCase } from './types'

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
  /** Where each value of `with` was given: the title of the entry. What is not here is the case's own. */
  origins: Record<string, string>
  limitMs?: number
  /** The entries it stands in, outermost first, its own last: "2", "2.0". */
  scopes: string[]
  /** Scopes that have to be over before it starts. */
  after: string[]
  /** Scopes whose waiting rest is skipped when it does not pass. */
  skips: string[]
  /** When it does not pass, everything that waits is skipped. */
  stops: boolean
  /** Recovery policies of the case and of the suites it stands in, the nearest first. */
  policies: PolicyUse[]
}
/** A recovery policy, and what it is attached to: "the case", "the suite Gate". */
export type PolicyUse = { policy: string; from: string }
export type LeftOut = { title: string; groups: string[]; why: string }
export type Flattened = { items: FlatItem[]; leftOut: LeftOut[] }

export type Library = {
  case(key: string): TestCase | undefined
  suite(key: string): Suite | undefined
  /** Every case, for suites by rule. */
  allCases(): readonly TestCase[]
  applications(testCase: TestCase): readonly string[]
  /** The table of that name. */
  table(name: string): { columns: string[]; rows: Row[] } | undefined
  /** Names a case hands on, with those of its routines. */
  handsOn(testCase: TestCase): readonly string[]
}

type Names = Map<string, string[]>
type Above = {
  groups: string[]
  with: Record<string, string>
  origins: Record<string, string>
  off?: string
  suites: string[]
  scopes: string[]
  after: string[]
  skips: string[]
  stops: boolean
  limitMs?: number
  prefix: string
  names: Names
  policies: PolicyUse[]
}

/** The children of a case are a scope of their own: they wait for the case, and it does not wait for them. */
const childrenOf = (scope: string) => `${scope}>`

/** Walks the tree. Whatever cannot run is left out by name and with its reason; nothing throws.
 * Ways of being left out: off, a parent off, no case, no suite, no table, no rows, a missing column, a circle
 * of suites or of "after", a handoff nobody gives. */
export function flatten(suite: Suite, library: Library): Flattened {
  const walk = new Walk(library)
  walk.suite(suite, {
    groups: [],
    with: {},
    origins: {},
    suites: [],
    scopes: [],
    after: [],
    skips: [],
    stops: false,
    prefix: '',
    names: new Map(),
    policies: [],
  })
  const handed = withHandoffs(walk.items, walk.leftOut, library)
  const { inOrder, circles } = ordered(handed)
  const leftOut = [
    ...walk.leftOut,
    ...circles.map(({ item, why }) => ({ title: item.title, groups: item.groups, why })),
  ]
  return { items: inOrder, leftOut }
}

class Walk {
  readonly items: FlatItem[] = []
  readonly leftOut: LeftOut[] = []
  constructor(private readonly library: Library) {}

  /** @param above its `suites` do not hold this suite yet */
  suite(suite: Suite, above: Above): void {
    const policies =
      suite.policy === undefined
        ? above.policies
        : [{ policy: suite.policy, from: `the suite ${suite.title}` }, ...above.policies]
    const inside = { ...above, policies, suites: [...above.suites, suite.key] }
    const entries = suite.rule === undefined ? suite.entries : this.chosen(suite, above)
    const names = namesOf(entries, above.prefix, this.library)
    entries.forEach((entry, i) => this.entry(entry, `${above.prefix}${i}`, { ...inside, names }))
  }

  private chosen(suite: Suite, above: Above): SuiteEntry[] {
    const rule = parseRule(suite.rule!)
    if ('message' in rule) {
      this.drop(suite.title, above.groups, `its rule cannot be read: ${rule.message}`)
      return []
    }
    return casesByRule(rule, this.library).map(({ key }) => plainEntry({ case: key }))
  }

  private drop(title: string, groups: string[], why: string): void {
    this.leftOut.push({ title, groups, why })
  }

  private entry(entry: SuiteEntry, id: string, above: Above): void {
    const title = nameOf(entry, this.library)
    const own = Object.fromEntries(Object.keys(entry.with).map((name) => [name, title]))
    const unknown = entry.after.find((name) => !above.names.has(name))
    if (unknown !== undefined)
      return this.drop(title, above.groups, `it runs after “${unknown}”, which is not in this suite`)
    const rest = entry.onFailure === 'skip-children' && entry.case === undefined ? [id] : []
    const here: Above = {
      ...above,
      off: above.off ?? (entry.off ? 'switched off' : undefined),
      with: { ...above.with, ...entry.with },
      origins: { ...above.origins, ...own },
      scopes: [...above.scopes, id],
      after: [...above.after, ...entry.after.flatMap((name) => above.names.get(name)!)],
      skips: [...above.skips, ...rest],
      stops: above.stops || entry.onFailure === 'stop',
      limitMs: entry.limitMs ?? above.limitMs,
    }
    const below = { ...here, off: above.off ?? (entry.off ? `“${title}” is switched off` : undefined) }
    if (entry.case !== undefined)
      this.caseEntry(entry, id, title, here, { ...below, limitMs: above.limitMs, stops: above.stops })
    else if (entry.suite !== undefined) this.suiteEntry(entry, id, title, below)
    else this.groupEntry(entry, id, title, below)
  }

  private children(entries: SuiteEntry[], prefix: string, above: Above): void {
    entries.forEach((child, i) => this.entry(child, `${prefix}${i}`, above))
  }

  /** Each repetition is a group of its own: what runs after something in it waits for that of the same one.
   * */
  private groupEntry(entry: SuiteEntry, id: string, title: string, above: Above): void {
    const prefixes = prefixesOf(entry, id)
    for (const [i, prefix] of (above.off ? prefixes.slice(0, 1) : prefixes).entries()) {
      const name = entry.repeat > 1 ? `${title} (${i + 1} of ${entry.repeat})` : title
      const names =
        entry.repeat > 1
          ? new Map([...above.names, ...namesOf(entry.entries, prefix, this.library)])
          : above.names
      this.children(entry.entries, prefix, { ...above, names, groups: [...above.groups, name] })
    }
  }

  private suiteEntry(entry: SuiteEntry, id: string, title: string, above: Above): void {
    const inner = this.library.suite(entry.suite!)
    if (!inner) return this.drop(title, above.groups, `suite “${entry.suite}” is not there`)
    if (above.suites.includes(inner.key))
      return this.drop(title, above.groups, `it holds itself: ${[...above.suites, inner.key].join(' → ')}`)
    for (let i = 1; i <= entry.repeat; i++) {
      const name = entry.repeat > 1 ? `${title} (${i} of ${entry.repeat})` : title
      this.suite(inner, {
        ...above,
        groups: [...above.groups, name],
        prefix: `${id}${entry.repeat > 1 ? `#${i}` : ''}/`,
      })
    }
  }

  /** Limit and stop are the entry's own; its children take what stands above them, and wait for it. */
  private caseEntry(entry: SuiteEntry, id: string, title: string, here: Above, below: Above): void {
    const onFailure: OnFailure = entry.onFailure ?? 'skip-children'
    const problem = this.addCase(entry, title, {
      ...here,
      skips:
        entry.entries.length > 0 && onFailure === 'skip-children'
          ? [...here.skips, childrenOf(id)]
          : here.skips,
    })
    if (problem) this.drop(title, here.groups, problem)
    const off = below.off ?? (problem ? `“${title}” does not run: ${problem}` : undefined)
    this.children(entry.entries, `${id}.`, {
      ...below,
      off,
      scopes: [...here.scopes.slice(0, -1), childrenOf(id)],
      after: [...here.after, id],
    })
  }

  /** @returns why it does not run, or `undefined` */
  private addCase(entry: SuiteEntry, title: string, above: Above): string | undefined {
    const testCase = this.library.case(entry.case!)
    if (!testCase) return `case “${entry.case}” is not there`
    if (above.off) return above.off
    const name = entry.data ?? testCase.data
    const table = name === undefined ? undefined : this.library.table(name)
    if (name !== undefined && !table) return `no data: the table “${name}” is not there`
    if (table?.rows.length === 0) return `no data: “${name}” has no rows`
    const missing = columnsOf(testCase).find((column) => !table?.columns.includes(column))
    if (missing !== undefined)
      return table
        ? `no data: “${name}” has no column “${missing}”`
        : `it uses row.${missing} and has no table`
    const limitMs = above.limitMs ?? testCase.limitMs
    const { groups, with: given, origins, scopes, after, skips, stops } = above
    const policies =
      testCase.policy === undefined
        ? above.policies
        : [{ policy: testCase.policy, from: 'the case' }, ...above.policies]
    for (let i = 1; i <= entry.repeat; i++) {
      for (const [r, values] of (table?.rows ?? [undefined]).entries()) {
        this.items.push({
          caseKey: testCase.key,
          title,
          groups,
          with: given,
          origins,
          scopes,
          after,
          skips,
          stops,
          policies,
          ...(values && { row: { index: r + 1, of: table!.rows.length, values } }),
          ...(entry.repeat > 1 && { repetition: { index: i, of: entry.repeat } }),
          ...(limitMs !== undefined && { limitMs }),
        })
      }
    }
    return undefined
  }
}

/** An entry with nothing but what it names. */
export const plainEntry = (
  what: Pick<SuiteEntry, 'case'> | Pick<SuiteEntry, 'suite'> | Pick<SuiteEntry, 'group'>,
): SuiteEntry => ({ ...what, off: false, repeat: 1, with: {}, after: [], entries: [] })

/** What stands in a suite: of one by a rule, the cases it chooses now; nothing when that cannot be read. */
export function entriesOf(
  { entries, rule: text }: Pick<Suite, 'entries' | 'rule'>,
  library: Pick<Library, 'allCases' | 'applications'>,
): SuiteEntry[] {
  if (text === undefined) return entries
  const rule = parseRule(text)
  return 'message' in rule ? [] : casesByRule(rule, library).map(({ key }) => plainEntry({ case: key }))
}

/** Cases a rule chooses: the most important first, then by key. */
export function casesByRule(rule: Rule, library: Pick<Library, 'allCases' | 'applications'>): TestCase[] {
  return library
    .allCases()
    .filter((testCase) => ruleHolds(rule, { ...testCase, applications: library.applications(testCase) }))
    .sort((a, b) => PRIORITIES[b.priority] - PRIORITIES[a.priority] || (a.key < b.key ? -1 : 1))
}

/** Entries with all that stand in them, in the order of the file. */
export const allEntries = (entries: readonly SuiteEntry[]): SuiteEntry[] =>
  entries.flatMap((entry) => [entry, ...allEntries(entry.entries)])

/** A case that takes a handoff waits for those that give it: the earlier ones, or the later where there is
 * none. */
function withHandoffs(items: FlatItem[], leftOut: LeftOut[], library: Library): FlatItem[] {
  const givers = new Map<string, { scope: string; at: number }[]>()
  items.forEach((item, at) => {
    for (const name of library.handsOn(library.case(item.caseKey)!))
      givers.set(name, [...(givers.get(name) ?? []), { scope: item.scopes.at(-1)!, at }])
  })
  return items.flatMap((item, at) => {
    const own = item.scopes.at(-1)!
    const waits: string[] = []
    for (const name of library.case(item.caseKey)!.needs) {
      const others = (givers.get(name) ?? []).filter(({ scope }) => scope !== own)
      if (others.length === 0) {
        leftOut.push({
          title: item.title,
          groups: item.groups,
          why: `it takes the handoff “${name}”, which nothing here gives`,
        })
        return []
      }
      const earlier = others.filter((other) => other.at < at)
      waits.push(...(earlier.length > 0 ? earlier : others).map(({ scope }) => scope))
    }
    return waits.length > 0 ? [{ ...item, after: [...new Set([...item.after, ...waits])] }] : [item]
  })
}

/** What the ids inside an entry begin with: of a group that is repeated, once for each repetition. */
const prefixesOf = ({ group, repeat }: SuiteEntry, id: string): string[] =>
  group === undefined || repeat === 1
    ? [`${id}.`]
    : Array.from({ length: repeat }, (_, i) => `${id}#${i + 1}.`)

/** What entries of one suite are called, and the scopes each name stands for. */
function namesOf(entries: SuiteEntry[], prefix: string, library: Library, names: Names = new Map()): Names {
  entries.forEach((entry, i) => {
    const id = `${prefix}${i}`
    const called = new Set([entry.name, entry.group, entry.case, entry.suite, nameOf(entry, library)])
    for (const name of called)
      if (name !== undefined)
        names.set(name, [
          ...(names.get(name) ?? []),
          id,
          ...(entry.case !== undefined && entry.entries.length > 0 ? [childrenOf(id)] : []),
        ])
    for (const prefix of prefixesOf(entry, id)) namesOf(entry.entries, prefix, library, names)
  })
  return names
}

const nameOf = (entry: SuiteEntry, library: Library) =>
  entry.name ??
  entry.group ??
  (entry.suite ? library.suite(entry.suite)?.title : library.case(entry.case!)?.title) ??
  entry.suite ??
  entry.case ??
  ''

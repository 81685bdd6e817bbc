import {
  describeStep,
  entriesOf,
  flatten,
  type FlatItem,
  type Step,
  type Suite,
  type SuiteEntry,
  type TestCase,
} from '@/core/model'
import { expectedMs } from '@/core/history'
import { outlineOf } from '@/core/execution'
import type {
  CaseViewModel,
  CaseStep,
  LibraryLine,
  OutlineEntry,
  PlannedLine,
  SuiteNode,
  SuiteViewModel,
  SuitesViewModel,
} from '@/core/view-models'
import {
  definitionLines,
  definitionRow,
  editsByRepository,
  listRepositories,
  repositoryById,
} from '@/db/definitions'
import { listApplications } from '@/db/workspace'
import { eventsOf } from '@/db/logs'
import { historyOfCases } from '@/db/case-history'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { problemsOfFile } from './file-problems'

const iso = (moment: Date | null) => moment?.toISOString() ?? null

export async function suitesViewModel(ctx: Context): Promise<SuitesViewModel> {
  const [library, repositories, edits, applications] = await Promise.all([
    loadLibrary(ctx),
    listRepositories(ctx.db),
    editsByRepository(ctx.db),
    listApplications(ctx.db),
  ])
  const held = new Set([...library.suites.values()].flatMap((suite) => suitesIn(suite.entries)))
  const node = (suite: Suite, above: string[]): SuiteNode => ({
    key: suite.key,
    title: suite.title,
    cases: casesOf(suite, library),
    children: [...new Set(suitesIn(suite.entries))].flatMap((key) =>
      above.includes(key) || !library.suite(key) ? [] : [node(library.suite(key)!, [...above, key])],
    ),
  })
  const roots = [...library.suites.values()].filter(({ key }) => !held.has(key))
  // Suites that only hold each other would have no root; each then stands by itself.
  return {
    tree: (roots.length > 0 ? roots : [...library.suites.values()]).map((suite) => node(suite, [suite.key])),
    counts: {
      case: library.cases.size,
      routine: library.routines.size,
      suite: library.suites.size,
      data: library.tables.size,
      rotation: library.rotations.size,
      policy: library.policies.size,
    },
    repositories: repositories.map(({ id, name, location, branch, commit, readAt, problems }) => ({
      id,
      name,
      location,
      branch,
      commit,
      readAt: iso(readAt),
      problems,
      edits: edits.get(id) ?? 0,
    })),
    applications: applications.map(({ key }) => key),
  }
}

const counted = new WeakMap<Loaded, Map<string, number>>()
/** How many cases a suite runs; flattening all of them again for each view would be most of its time. */
function casesOf(suite: Suite, library: Loaded): number {
  const counts = counted.get(library) ?? new Map<string, number>()
  counted.set(library, counts)
  const known =
    counts.get(suite.key) ?? new Set(flatten(suite, library).items.map(({ caseKey }) => caseKey)).size
  counts.set(suite.key, known)
  return known
}

/** Everything there is, a line each, by title. */
export async function libraryLines(ctx: Context): Promise<LibraryLine[]> {
  const [library, lines, repositories] = await Promise.all([
    loadLibrary(ctx),
    definitionLines(ctx.db),
    listRepositories(ctx.db),
  ])
  const broken = new Set(
    repositories.flatMap(({ id, problems }) => problems.map(({ file }) => `${id} ${file}`)),
  )
  return lines.map(({ kind, key, title, edited, conflict, repositoryId, file }) => ({
    kind,
    key,
    title,
    tags: kind === 'case' ? (library.case(key)?.tags ?? []) : [],
    ...(edited && { edited }),
    ...(conflict && { conflict }),
    ...(broken.has(`${repositoryId} ${file}`) && { broken: true as const }),
  }))
}

const suitesIn = (entries: SuiteEntry[]): string[] =>
  entries.flatMap((entry) => [...(entry.suite ? [entry.suite] : []), ...suitesIn(entry.entries)])

export async function suiteViewModelIfThere(ctx: Context, key: string): Promise<SuiteViewModel | undefined> {
  return (await loadLibrary(ctx)).suite(key) && suiteViewModel(ctx, key)
}

function kindOf(entry: SuiteEntry): OutlineEntry['kind'] {
  if (entry.case !== undefined) return 'case'
  return entry.suite !== undefined ? 'suite' : 'group'
}

/** A suite as it is kept, or as a text under edit says it.
 * @throws {Problem} NOT_FOUND */
export async function suiteViewModel(ctx: Context, key: string, draft?: Suite): Promise<SuiteViewModel> {
  const [library, row] = await Promise.all([loadLibrary(ctx), definitionRow(ctx.db, 'suite', key)])
  const suite = draft ?? library.suite(key)
  if (!suite || !row) throw new Problem('NOT_FOUND', `There is no suite “${key}”.`)
  const { items, leftOut } = flatten(suite, library)
  const history = await historyOfCases(ctx.db, [
    ...new Set([...casesIn(suite, library), ...items.map(({ caseKey }) => caseKey)]),
  ])
  const estimateOf = (caseKey: string) => expectedMs(history.get(caseKey)?.durations, library.case(caseKey))
  const repository = row.repositoryId === null ? undefined : await repositoryById(ctx.db, row.repositoryId)
  const outline: OutlineEntry[] = []
  const visit = (entries: SuiteEntry[], depth: number, offAbove: boolean, prefix: string, above: string[]) =>
    entries.forEach((entry, i) => {
      const id = `${prefix}${i}`
      const testCase = entry.case === undefined ? undefined : library.case(entry.case)
      const inner = entry.suite === undefined ? undefined : library.suite(entry.suite)
      const rows = testCase ? (library.table(entry.data ?? testCase.data ?? '')?.rows.length ?? 0) : 0
      const past = entry.case === undefined ? undefined : history.get(entry.case)
      const { name, off, repeat, limitMs, with: given, data, after, onFailure } = entry
      outline.push({
        id,
        depth,
        kind: kindOf(entry),
        own: above.length === 1,
        title: name ?? testCase?.title ?? inner?.title ?? entry.group ?? entry.case ?? entry.suite ?? '',
        ...(entry.case !== undefined && { caseKey: entry.case }),
        ...(entry.suite !== undefined && { suiteKey: entry.suite }),
        ...(name !== undefined && { name }),
        off,
        offAbove,
        rows,
        repeat,
        ...(limitMs !== undefined && { limitMs }),
        with: given,
        ...(data && { data }),
        after,
        ...(onFailure && { onFailure }),
        uses: testCase?.uses ?? [],
        parameters: testCase?.parameters ?? {},
        last: past?.outcomes.toReversed() ?? [],
        estimateMs: entry.case === undefined ? 0 : estimateOf(entry.case) * Math.max(1, rows) * repeat,
      })
      const below = offAbove || off
      if (inner && !above.includes(inner.key))
        visit(entriesOf(inner, library), depth + 1, below, `${id}/`, [...above, inner.key])
      visit(entry.entries, depth + 1, below, `${id}.`, above)
    })
  visit(suite.rule === undefined ? suite.entries : [], 0, false, '', [key])
  return {
    key,
    title: suite.title,
    rule: suite.rule ?? null,
    outline: withSums(outline),
    leftOut,
    planned: plannedLines(items, library, estimateOf),
    cases: new Set(items.map(({ caseKey }) => caseKey)).size,
    caseRuns: items.length,
    estimateMs: items.reduce((sum, { caseKey }) => sum + estimateOf(caseKey), 0),
    repository: repository
      ? { name: repository.name, branch: repository.branch, readAt: iso(repository.readAt) }
      : null,
  }
}

/** The flat list as it is read: numbered, with what each waits for and where its values come from. */
function plannedLines(
  items: readonly FlatItem[],
  library: Loaded,
  estimateOf: (caseKey: string) => number,
): PlannedLine[] {
  const holders = new Map<string, Set<string>>()
  for (const { scopes, title } of items)
    for (const scope of scopes) holders.set(scope, (holders.get(scope) ?? new Set()).add(title))
  return items.map(({ title, groups, row, repetition, caseKey, with: given, origins, after }) => {
    const values = Object.entries({ ...library.case(caseKey)!.parameters, ...given }).map(
      ([name, value]) => ({ name, value, from: name in given ? (origins[name] ?? 'suite') : 'case' }),
    )
    const waits = [...new Set(after.flatMap((scope) => [...(holders.get(scope) ?? [])]))].slice(
      0,
      WAITS_NAMED,
    )
    const parts = [
      row && `row ${row.index} of ${row.of}`,
      repetition && `${repetition.index} of ${repetition.of}`,
    ].filter(Boolean)
    return {
      title,
      groups,
      caseKey,
      row: parts.length > 0 ? parts.join(', ') : null,
      estimateMs: estimateOf(caseKey),
      after: waits,
      values,
    }
  })
}
const WAITS_NAMED = 3

function casesIn(suite: Suite, library: Loaded, above: string[] = []): string[] {
  if (above.includes(suite.key)) return []
  const inEntries = (entries: SuiteEntry[]): string[] =>
    entries.flatMap((entry) => [
      ...(entry.case ? [entry.case] : []),
      ...(entry.suite && library.suite(entry.suite)
        ? casesIn(library.suite(entry.suite)!, library, [...above, suite.key])
        : []),
      ...inEntries(entry.entries),
    ])
  return inEntries(entriesOf(suite, library))
}

/** Groups and suites take as long as what is on below them, as often as they are repeated. */
function withSums(outline: OutlineEntry[]): OutlineEntry[] {
  const sums = new Array<number>(outline.length).fill(0)
  for (let i = outline.length - 1; i >= 0; i--) {
    const { kind, off, offAbove, estimateMs, depth, repeat } = outline[i]!
    let below = 0
    for (let j = i + 1; j < outline.length && outline[j]!.depth > depth; j++)
      if (outline[j]!.depth === depth + 1) below += sums[j]!
    const own = kind === 'case' ? estimateMs : 0
    sums[i] = off || offAbove ? 0 : own + below * (kind === 'case' ? 1 : repeat)
  }
  return outline.map((entry, i) => (entry.kind === 'case' ? entry : { ...entry, estimateMs: sums[i]! }))
}

/** @throws {Problem} NOT_FOUND */
export async function caseViewModel(ctx: Context, key: string): Promise<CaseViewModel> {
  const [library, row, history, repositories] = await Promise.all([
    loadLibrary(ctx),
    definitionRow(ctx.db, 'case', key),
    historyOfCases(ctx.db, [key]),
    listRepositories(ctx.db),
  ])
  const testCase = library.case(key)
  if (!testCase || !row) throw new Problem('NOT_FOUND', `There is no case “${key}”.`)
  const last = history.get(key)?.outcomes.toReversed() ?? []
  const good = last.findLast(
    ({ mark, attemptId }) => (mark === 'passed' || mark === 'recovered') && attemptId,
  )
  const lines = good
    ? outlineOf(testCase, [...library.routines.values()], await eventsOf(ctx.db, good.attemptId!))
    : []
  const screens = new Map(
    lines.flatMap(({ path, after, before }) =>
      after || before ? [[path, (after ?? before)!.hash] as const] : [],
    ),
  )
  const lastBelow = (path: string) =>
    lines.findLast((line) => line.path.startsWith(`${path}.`) && line.after)?.after?.hash
  let number = 0
  const stepsOf = (steps: Step[], prefix: string, depth: number): CaseStep[] =>
    steps.flatMap((step, i) => {
      const path = `${prefix}.${i}`
      const screen = screens.get(path) ?? lastBelow(path)
      const line: CaseStep = {
        path,
        depth,
        number: ++number,
        words: describeStep(step),
        off: step.off ?? false,
        ...(step.because && { because: step.because }),
        ...(screen && { screen }),
      }
      return [
        line,
        ...('steps' in step ? stepsOf(step.steps, path, depth + 1) : []),
        ...(step.verb === 'if' ? stepsOf(step.otherwise, `${path}.else`, depth + 1) : []),
      ]
    })
  const rolesOf = (roles: NonNullable<TestCase['roles']>): CaseStep[] =>
    Object.entries(roles).flatMap(([role, { steps }]) => [
      {
        path: `roles.${role}`,
        depth: 0,
        number: ++number,
        words: { verb: 'as', object: role, detail: '' },
        off: false,
      },
      ...stepsOf(steps, `roles.${role}`, 1),
    ])
  const table = testCase.data === undefined ? undefined : library.table(testCase.data)
  return {
    key,
    title: testCase.title,
    tags: testCase.tags,
    requires: testCase.requires,
    entry: testCase.entry ?? null,
    uses: testCase.uses,
    priority: testCase.priority,
    file: row.file,
    problems: problemsOfFile(repositories, row),
    source: row.source,
    steps: [...stepsOf(testCase.steps, 'main', 0), ...rolesOf(testCase.roles ?? {})],
    undo: stepsOf(testCase.undo, 'undo', 0),
    table: table ? { file: testCase.data!, columns: table.columns, rows: table.rows } : null,
    last,
  }
}

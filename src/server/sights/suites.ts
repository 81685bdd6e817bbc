import { describeStep, flatten, type Row, type Step, type Suite, type SuiteEntry } from '@/core/model'
import { expectedMs } from '@/core/history'
import { outlineOf } from '@/core/execution'
import type { CaseSight, CaseStep, OutlineEntry, StartOptions, SuiteNode, SuiteSight, SuitesSight } from '@/core/sights'
import { seatsByEnvironment } from '@/db/agents'
import { definitionRow, listBuilds, listEnvironments, listRepositories, repositoryById } from '@/db/definitions'
import { eventsOf, historyOfCases } from '@/db/runs'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { Problem } from '../http/problems'

const iso = (moment: Date | null) => moment?.toISOString() ?? null

export async function suitesSight(ctx: Context): Promise<SuitesSight> {
  const [library, repositories] = await Promise.all([loadLibrary(ctx), listRepositories(ctx.db)])
  const held = new Set([...library.suites.values()].flatMap((suite) => suitesIn(suite.entries)))
  const node = (suite: Suite, above: string[]): SuiteNode => ({
    key: suite.key,
    title: suite.title,
    cases: new Set(flatten(suite, library).items.map(({ caseKey }) => caseKey)).size,
    children: [...new Set(suitesIn(suite.entries))].flatMap((key) => (above.includes(key) || !library.suite(key) ? [] : [node(library.suite(key)!, [...above, key])])),
  })
  const roots = [...library.suites.values()].filter(({ key }) => !held.has(key))
  // Suites that only hold each other would have no root; each then stands by itself.
  const tree = (roots.length > 0 ? roots : [...library.suites.values()]).map((suite) => node(suite, [suite.key]))
  return {
    tree,
    cases: library.cases.size,
    routines: [...library.routines.values()].map(({ key, title }) => ({ key, title })),
    repositories: repositories.map(({ id, name, location, branch, commit, readAt, problems }) => ({ id, name, location, branch, commit, readAt: iso(readAt), problems })),
  }
}

const suitesIn = (entries: SuiteEntry[]): string[] => entries.flatMap((entry) => [...(entry.suite ? [entry.suite] : []), ...suitesIn(entry.entries)])

/** @throws {Problem} NOT_FOUND */
export async function suiteSight(ctx: Context, key: string): Promise<SuiteSight> {
  const [library, row] = await Promise.all([loadLibrary(ctx), definitionRow(ctx.db, 'suite', key)])
  const suite = library.suite(key)
  if (!suite || !row) throw new Problem('NOT_FOUND', `There is no suite “${key}”.`)
  const { items, leftOut } = flatten(suite, library)
  const history = await historyOfCases(ctx.db, [...new Set(casesIn(suite, library))])
  const estimateOf = (caseKey: string) => expectedMs(history.get(caseKey)?.durations, library.case(caseKey)?.steps ?? [])
  const repository = row.repositoryId === null ? undefined : await repositoryById(ctx.db, row.repositoryId)
  const outline: OutlineEntry[] = []
  const visit = (entries: SuiteEntry[], depth: number, offAbove: boolean, prefix: string, above: string[]) =>
    entries.forEach((entry, i) => {
      const id = `${prefix}${i}`
      const testCase = entry.case === undefined ? undefined : library.case(entry.case)
      const inner = entry.suite === undefined ? undefined : library.suite(entry.suite)
      const rows = testCase ? (library.rows(testCase)?.length ?? 0) : 0
      const past = entry.case === undefined ? undefined : history.get(entry.case)
      outline.push({
        id, depth, kind: entry.case !== undefined ? 'case' : entry.suite !== undefined ? 'suite' : 'group',
        title: entry.name ?? testCase?.title ?? inner?.title ?? entry.group ?? entry.case ?? entry.suite ?? '',
        ...(entry.case !== undefined && { caseKey: entry.case }), ...(entry.suite !== undefined && { suiteKey: entry.suite }),
        off: entry.off, offAbove, rows, repeat: entry.repeat, ...(entry.limitMs !== undefined && { limitMs: entry.limitMs }), with: entry.with, uses: testCase?.uses ?? [],
        last: past?.outcomes.toReversed() ?? [], estimateMs: entry.case === undefined ? 0 : estimateOf(entry.case) * Math.max(1, rows) * entry.repeat,
      })
      const below = offAbove || entry.off
      if (inner && !above.includes(inner.key)) visit(inner.entries, depth + 1, below, `${id}.`, [...above, inner.key])
      visit(entry.entries, depth + 1, below, `${id}.`, above)
    })
  visit(suite.entries, 0, false, '', [key])
  return {
    key, title: suite.title, outline: withSums(outline), leftOut,
    cases: new Set(items.map(({ caseKey }) => caseKey)).size, caseRuns: items.length, estimateMs: items.reduce((sum, { caseKey }) => sum + estimateOf(caseKey), 0),
    repository: repository ? { name: repository.name, branch: repository.branch, readAt: iso(repository.readAt) } : null,
  }
}

function casesIn(suite: Suite, library: Loaded, above: string[] = []): string[] {
  if (above.includes(suite.key)) return []
  const inEntries = (entries: SuiteEntry[]): string[] =>
    entries.flatMap((entry) => [...(entry.case ? [entry.case] : []), ...(entry.suite && library.suite(entry.suite) ? casesIn(library.suite(entry.suite)!, library, [...above, suite.key]) : []), ...inEntries(entry.entries)])
  return inEntries(suite.entries)
}

/** Groups and suites take as long as what is on below them. */
function withSums(outline: OutlineEntry[]): OutlineEntry[] {
  return outline.map((entry, i) => {
    if (entry.kind === 'case') return entry
    const end = outline.findIndex((other, j) => j > i && other.depth <= entry.depth)
    const below = outline.slice(i + 1, end < 0 ? undefined : end)
    return { ...entry, estimateMs: below.filter((other) => other.kind === 'case' && !other.off && !other.offAbove).reduce((sum, other) => sum + other.estimateMs, 0) }
  })
}

/** @throws {Problem} NOT_FOUND */
export async function caseSight(ctx: Context, key: string): Promise<CaseSight> {
  const [library, row, history] = await Promise.all([loadLibrary(ctx), definitionRow(ctx.db, 'case', key), historyOfCases(ctx.db, [key])])
  const testCase = library.case(key)
  if (!testCase || !row) throw new Problem('NOT_FOUND', `There is no case “${key}”.`)
  const last = history.get(key)?.outcomes.toReversed() ?? []
  const good = last.findLast(({ mark, attemptId }) => (mark === 'passed' || mark === 'recovered') && attemptId)
  const lines = good ? outlineOf(testCase, [...library.routines.values()], await eventsOf(ctx.db, good.attemptId!)) : []
  const screens = new Map(lines.flatMap(({ path, after, before }) => (after || before ? [[path, (after ?? before)!.hash] as const] : [])))
  const lastBelow = (path: string) => lines.findLast((line) => line.path.startsWith(`${path}.`) && line.after)?.after?.hash
  let number = 0
  const stepsOf = (steps: Step[], prefix: string, depth: number): CaseStep[] =>
    steps.flatMap((step, i) => {
      const path = `${prefix}.${i}`
      const screen = screens.get(path) ?? lastBelow(path)
      const line: CaseStep = { path, depth, number: ++number, words: describeStep(step), off: step.off ?? false, ...(step.because && { because: step.because }), ...(screen && { screen }) }
      return [line, ...('steps' in step ? stepsOf(step.steps, path, depth + 1) : []), ...(step.verb === 'if' ? stepsOf(step.otherwise, `${path}.else`, depth + 1) : [])]
    })
  const rows: Row[] | undefined = library.rows(testCase)
  return {
    key, title: testCase.title, tags: testCase.tags, requires: testCase.requires, entry: testCase.entry ?? null, uses: testCase.uses, priority: testCase.priority, file: row.file, source: row.source,
    steps: stepsOf(testCase.steps, 'main', 0), undo: stepsOf(testCase.undo, 'undo', 0),
    table: testCase.data && rows ? { file: testCase.data, columns: Object.keys(rows[0] ?? {}), rows } : null, last,
  }
}

export async function startOptions(ctx: Context): Promise<StartOptions> {
  const [library, environments, seats, builds] = await Promise.all([loadLibrary(ctx), listEnvironments(ctx.db), seatsByEnvironment(ctx.db, ctx.leaseMs), listBuilds(ctx.db)])
  const history = await historyOfCases(ctx.db, [...library.cases.keys()])
  return {
    suites: [...library.suites.values()].map((suite) => {
      const { items } = flatten(suite, library)
      const estimateMs = items.reduce((sum, { caseKey }) => sum + expectedMs(history.get(caseKey)?.durations, library.case(caseKey)!.steps), 0)
      return { key: suite.key, title: suite.title, caseRuns: items.length, estimateMs }
    }),
    environments: environments.map(({ key, title, simulated }) => ({ key, title, simulated, seats: seats.get(key) ?? 0 })),
    builds: builds.map(({ label }) => label),
  }
}

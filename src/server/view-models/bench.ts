/** What the bench of one definition shows, and what a text under edit says. */
import {
  casesByRule,
  describeStep,
  flatten,
  parseRule,
  unknownInRule,
  usesOf,
  type Definition,
  type DefinitionKind,
  type FileProblem,
  type Rotation,
  type Step,
} from '@/core/model'
import { expectedMs } from '@/core/history'
import { outlineOf } from '@/core/execution'
import type {
  BenchViewModel,
  DraftViewModel,
  RepositoryDetailViewModel,
  RuleViewModel,
} from '@/core/view-models'
import { definitionRow, editedOf, listRepositories, repositoryById } from '@/db/definitions'
import { eventsOf } from '@/db/logs'
import { historyOfCases } from '@/db/case-history'
import { importedResult } from '@/db/imported'
import { caseRunRow } from '@/db/runs'
import { listApplications, listDatabases } from '@/db/workspace'
import type { Context } from '../context'
import { openColumn } from '../sealing'
import { checkDefinition, credentialsOf, hashOf, loadLibrary, type Loaded } from '../definitions'
import { tokenOf } from '../http/signed'
import { Problem } from '../http/problems'
import { startFaults } from '../rota'
import { chosenItems, chosenSuite, lackingOf } from '../runs'
import { problemsOfFile } from './file-problems'
import { offersOf } from './offers'

const RULE_CASES_SHOWN = 200

/** @throws {Problem} NOT_FOUND */
export async function benchViewModel(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
): Promise<BenchViewModel> {
  const row = await definitionRow(ctx.db, kind, key)
  if (!row) throw new Problem('NOT_FOUND', `There is no ${kind === 'data' ? 'table' : kind} “${key}”.`)
  const [library, repositories, applications, databases, draft, past] = await Promise.all([
    loadLibrary(ctx),
    listRepositories(ctx.db),
    listApplications(ctx.db),
    listDatabases(ctx.db),
    draftViewModel(ctx, kind, key, row.source),
    pastOf(ctx, kind, key),
  ])
  const repository = repositories.find(({ id }) => id === row.repositoryId)
  const known = new Set([...draft.problems, ...draft.warnings].map(({ message }) => message))
  return {
    kind,
    key,
    title: row.title,
    version: row.version,
    source: row.source,
    file: row.file,
    edited: row.edited,
    theirs: row.theirs,
    changedAt: row.changedAt.toISOString(),
    repository: repository ? { id: repository.id, name: repository.name, branch: repository.branch } : null,
    broken: problemsOfFile(repositories, row).filter(({ message }) => !known.has(message)),
    repositories: repositories.map(({ id, name }) => ({ id, name })),
    rowCount:
      row.document.kind === 'case' && row.document.data
        ? (library.table(row.document.data)?.rows.length ?? 0)
        : 0,
    draft,
    last: past.last,
    screens: past.good ? screensOf(row.document, library, past.good) : {},
    uses: usesOf(kind, key, library),
    offers: offersOf(library, applications, databases),
  }
}

async function pastOf(ctx: Context, kind: DefinitionKind, key: string) {
  if (kind !== 'case') return { last: [], good: undefined }
  const last = ((await historyOfCases(ctx.db, [key])).get(key)?.outcomes ?? []).toReversed()
  const attempt = last.findLast(
    ({ mark, attemptId }) => (mark === 'passed' || mark === 'recovered') && attemptId,
  )?.attemptId
  return { last, good: attempt ? await eventsOf(ctx.db, attempt) : undefined }
}

/** Hash of the last good screen by step, for steps that are still what they were. */
function screensOf(
  document: Definition,
  library: Loaded,
  events: Awaited<ReturnType<typeof eventsOf>>,
): Record<string, string> {
  if (document.kind !== 'case') return {}
  const lines = outlineOf(document, [...library.routines.values()], events)
  const own = new Map(
    lines.flatMap(({ path, words, after, before }) =>
      after || before ? [[`${path} ${words.verb}`, (after ?? before)!.hash] as const] : [],
    ),
  )
  const below = (path: string) =>
    lines.findLast((line) => line.path.startsWith(`${path}.`) && line.after)?.after?.hash
  const found: Record<string, string> = {}
  const visit = (steps: readonly Step[], prefix: string) =>
    steps.forEach((step, i) => {
      const path = `${prefix}.${i}`
      const hash =
        own.get(`${path} ${describeStep(step).verb}`) ??
        ('steps' in step || step.verb === 'use' ? below(path) : undefined)
      if (hash) found[path] = hash
      if ('steps' in step) visit(step.steps, path)
    })
  visit(document.steps, 'main')
  return found
}

/** What a text says, read anew; its problems where it says nothing sound. */
export async function draftViewModel(
  ctx: Context,
  kind: DefinitionKind,
  key: string,
  source: string,
): Promise<DraftViewModel> {
  const { definition, problems, warnings } = await checkDefinition(ctx, kind, key, source)
  return {
    problems,
    warnings:
      definition?.kind === 'rotation'
        ? [...warnings, ...(await obstaclesOf(ctx, `${key}.rotation.yaml`, definition))]
        : warnings,
    ...(definition && { definition }),
  }
}

/** What a start of the rotation would be refused for now, besides what its plan says. */
async function obstaclesOf(ctx: Context, file: string, rotation: Rotation): Promise<FileProblem[]> {
  const library = await loadLibrary(ctx)
  try {
    const choice = { parts: rotation.what, with: rotation.with }
    const { items } = chosenItems(choice, chosenSuite(choice, library), library)
    const lacking = await lackingOf(ctx, items, library)
    const faults = await startFaults(ctx, rotation, lacking, items)
    return faults.map(({ path, message }) => ({ file, line: 1, column: 1, field: path, message }))
  } catch (error) {
    if (error instanceof Problem) return [] // told by its part
    throw error
  }
}

/** @throws {Problem} BODY_INVALID with the place, when the rule cannot be read */
export async function ruleViewModel(ctx: Context, text: string): Promise<RuleViewModel> {
  const rule = parseRule(text)
  if ('message' in rule)
    throw new Problem('BODY_INVALID', `At character ${rule.at + 1}: ${rule.message}.`, { at: rule.at })
  const library = await loadLibrary(ctx)
  const cases = casesByRule(rule, library)
  const { items } = flatten({ kind: 'suite', key: 'rule', title: text, entries: [], rule: text }, library)
  const history = await historyOfCases(
    ctx.db,
    cases.map(({ key }) => key),
  )
  const estimateMs = items.reduce(
    (sum, { caseKey }) => sum + expectedMs(history.get(caseKey)?.durations, library.case(caseKey)!),
    0,
  )
  return {
    count: cases.length,
    of: library.cases.size,
    caseRuns: items.length,
    estimateMs,
    unknown: unknownInRule(
      rule,
      library.allCases().map((one) => ({ ...one, applications: library.applications(one) })),
    ),
    cases: cases
      .slice(0, RULE_CASES_SHOWN)
      .map(({ key, title, tags, priority }) => ({ key, title, tags, priority })),
  }
}

/** @param withSecret only an administrator sees what signs webhooks
 * @throws {Problem} NOT_FOUND */
export async function repositoryDetailViewModel(
  ctx: Context,
  id: number,
  withSecret: boolean,
): Promise<RepositoryDetailViewModel> {
  const repository = await repositoryById(ctx.db, id)
  if (!repository) throw new Problem('NOT_FOUND')
  const { name, location, branch, folder, commit, readAt, problems, found, everyMinutes } = repository
  const edits = await editedOf(ctx.db, id)
  const secret = withSecret && repository.webhookSecret !== null ? openColumn(repository.webhookSecret) : null
  return {
    id,
    name,
    location,
    branch,
    folder,
    commit,
    readAt: readAt?.toISOString() ?? null,
    problems,
    found,
    everyMinutes,
    access: credentialsOf(repository)?.kind ?? 'none',
    webhookSecret: secret,
    webhookToken: secret === null ? null : tokenOf(secret),
    edits: edits.map(({ kind, key, title, file, theirs, hash, source, committed }) => ({
      kind,
      key,
      title,
      file,
      conflict: theirs !== null,
      fresh: hash === '',
      on: branchWith(committed, hashOf(source)),
    })),
  }
}

const branchWith = (committed: Record<string, string>, hash: string): string | null =>
  Object.keys(committed).find((branch) => committed[branch] === hash) ?? null

/** @throws {Problem} NOT_FOUND */
export async function importedViewModel(ctx: Context, caseRunId: string) {
  const [result, caseRun] = await Promise.all([
    importedResult(ctx.db, caseRunId),
    caseRunRow(ctx.db, caseRunId),
  ])
  if (!result) throw new Problem('NOT_FOUND', 'This case run was not taken in from a result file.')
  return { ...result, ...(caseRun?.failureMessage && { message: caseRun.failureMessage }) }
}

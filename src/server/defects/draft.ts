/** What a defect says before somebody logs it: nothing of it is stored. */
import {
  draftDefect,
  draftOfResult,
  outlineOf,
  type DefectDraft,
  type NumberedEvent,
  type OutlineLine,
} from '@/core/execution'
import type { Owner } from '@/core/tracker'
import { proposeSeverity } from '@/core/triage'
import type { KnownDefect } from '@/core/view-models'
import type { CaseRunRow } from '@/db/claim'
import type { DefectRow } from '@/db/defects'
import { importedResult } from '@/db/imported'
import { eventsOf } from '@/db/logs'
import { markedOf, type MarkedRow } from '@/db/marked-screens'
import { casesOfCause, type CauseMember } from '@/db/run-causes'
import { caseRunRow, frozenRun } from '@/db/runs'
import type { DefectEvidence } from '@/db/schema'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { mailLine } from '../mail'
import { knownLike } from '../triage'
import type { FailureOf } from './failure-of'
import { triedWith } from './occurs'
import { ownerOfFailure } from './owners'
import { trackerLine } from './tracker'

export type Draft = DefectDraft & {
  /** Where it happens and since when, in sentences. */
  occurs: string
  severity: DefectRow['severity']
  /** What speaks for that severity. */
  because: string
  environment: string
  build: string
  caseKey: string
  caseTitle: string
  runId: number
  evidence: (DefectEvidence & { title: string })[]
  ways: ('tracker' | 'mail')[]
  owner: Owner | null
  known: KnownDefect[]
}

/** @throws {Problem} BODY_INVALID: no failure is named, or two; NOT_FOUND */
export function draftOf(ctx: Context, { attemptId, caseRunId }: FailureOf): Promise<Draft> {
  if (attemptId !== undefined && caseRunId === undefined) return draftFrom(ctx, attemptId)
  if (caseRunId !== undefined && attemptId === undefined) return draftOfCaseRun(ctx, caseRunId)
  throw new Problem('BODY_INVALID', 'A defect is of an attempt, or of a case run of a result file: name one.')
}

/** Drafts a defect from an attempt; nothing is stored. @throws {Problem} NOT_FOUND */
export async function draftFrom(ctx: Context, attemptId: string): Promise<Draft> {
  const { attempt, caseRun, frozen, testCase } = await attemptContext(ctx, attemptId)
  const events = await eventsOf(ctx.db, attemptId)
  const lines = outlineOf(testCase, Object.values(frozen.routines), events)
  const draft = draftDefect({
    caseTitle: testCase.title,
    applications: Object.keys(frozen.applications),
    environment: frozen.environment.title,
    build: frozen.build,
    lines,
  })
  return {
    ...draft,
    ...(await howOften(ctx, { ...caseRun, member: { attemptId: attempt.id } }, frozen, testCase.priority)),
    environment: frozen.environment.title,
    build: frozen.build,
    caseKey: caseRun.caseKey,
    caseTitle: caseRun.title,
    runId: caseRun.runId,
    evidence: [...markedIn(await markedOf(ctx.db, attemptId)), ...evidenceIn(lines, events)],
    ways: await waysOf(ctx),
    owner: await ownerOfFailure(ctx, {
      caseKey: caseRun.caseKey,
      application: attempt.failureApplication,
      tags: testCase.tags,
    }),
    known: await alike(ctx, draft, frozen.environment.title),
  }
}

/** The same of a case run that was taken in from a result file: what that says of it is all there is.
 * @throws {Problem} NOT_FOUND */
export async function draftOfCaseRun(ctx: Context, caseRunId: string): Promise<Draft> {
  const [caseRun, result] = await Promise.all([
    caseRunRow(ctx.db, caseRunId),
    importedResult(ctx.db, caseRunId),
  ])
  const frozen = caseRun && (await frozenRun(ctx.db, caseRun.runId))
  if (!caseRun || !result || !frozen)
    throw new Problem('NOT_FOUND', 'This case run was not taken in from a result file, or is gone.')
  const { caseKey, title, runId, failureMessage } = caseRun
  const environment = frozen.environments.find(({ key }) => key === caseRun.environment) ?? {
    key: caseRun.environment,
    title: caseRun.environment,
  }
  const { build } = frozen
  const draft = draftOfResult({
    ...result,
    name: title,
    ...(failureMessage !== null && { message: failureMessage }),
  })
  return {
    ...draft,
    ...(await howOften(ctx, { caseKey, runId, member: { id: caseRunId } }, { environment, build }, 'normal')),
    environment: environment.title,
    build,
    caseKey,
    caseTitle: title,
    runId,
    evidence: [],
    ways: await waysOf(ctx),
    owner: await ownerOfFailure(ctx, { caseKey, application: null }),
    known: await alike(ctx, draft, environment.title),
  }
}

/** Where it happens and since when, and how severe that makes it. */
async function howOften(
  { db }: Pick<Context, 'db'>,
  { caseKey, runId, member }: Pick<CaseRunRow, 'caseKey' | 'runId'> & { member: CauseMember },
  { environment, build }: { environment: { key: string; title: string }; build: string },
  priority: DefectRow['severity'],
): Promise<Pick<Draft, 'occurs' | 'severity' | 'because'>> {
  const [{ tried, words }, cases] = await Promise.all([
    triedWith(db, caseKey, environment, build),
    casesOfCause(db, runId, member),
  ])
  const now = tried.filter((one) => one.build === build)
  const failing = now.filter(({ failed }) => failed > 0)
  const sum = (of: 'failed' | 'of') => failing.reduce((all, one) => all + one[of], 0)
  return {
    occurs: words,
    ...proposeSeverity({
      priority,
      environments: { failed: failing.length, of: now.length },
      times: { failed: sum('failed'), of: sum('of') },
      ...(cases !== undefined && { cases }),
    }),
  }
}

/** A draft is one without them, too. */
const alike = (ctx: Context, { title, steps, expected, actual }: DraftWords, environment: string) =>
  knownLike(ctx, { title, text: [steps, expected, actual].join('\n'), where: { environment } }).catch(
    () => [],
  )
type DraftWords = Pick<Draft, 'title' | 'steps' | 'expected' | 'actual'>

/** The ways a defect can go from here. */
async function waysOf(ctx: Context): Promise<Draft['ways']> {
  const [tracker, mail] = await Promise.all([trackerLine(ctx), mailLine(ctx)])
  return [...(tracker ? ['tracker' as const] : []), ...(mail ? ['mail' as const] : [])]
}

/** What somebody marked is what a developer is to see first. */
const markedIn = (rows: readonly MarkedRow[]): Draft['evidence'] =>
  rows.map(({ hash, note: words }) => ({
    kind: 'screen-marked',
    hash,
    title: words === '' ? 'Marked screen' : `Marked screen: ${words}`,
  }))

const PIECE_TITLES = {
  video: 'Video of the attempt',
  'page-source': 'Source of the page',
  display: 'The whole display at the failure',
} as const

function evidenceIn(lines: readonly OutlineLine[], events: readonly NumberedEvent[]): Draft['evidence'] {
  const found: Draft['evidence'] = []
  const failing = lines.find((line) => line.failing)
  const earlier = lines.slice(0, failing ? lines.indexOf(failing) : 0).findLast((line) => line.after)?.after
  const before = failing?.before ?? earlier
  if (before && before.hash !== failing?.after?.hash)
    found.push({ kind: 'screen-before', hash: before.hash, title: 'Screen before the step' })
  if (failing?.after)
    found.push({ kind: 'screen-after', hash: failing.after.hash, title: 'Screen at the failure' })
  for (const event of events) {
    if (event.type === 'evidence')
      found.push({
        kind: event.kind,
        hash: event.hash,
        title: PIECE_TITLES[event.kind],
      })
  }
  return found
}

/** From a failure to a defect a developer can act on. */
import {
  draftDefect,
  outlineOf,
  type DefectDraft,
  type NumberedEvent,
  type OutlineLine,
} from '@/core/execution'
import type { Owner } from '@/core/tracker'
import { occursWords, proposeSeverity } from '@/core/triage'
import { note } from '@/db/audit'
import { triedByBuild } from '@/db/case-history'
import type { CaseRunRow } from '@/db/claim'
import {
  addDefect,
  defectById,
  editDefect,
  listDefects,
  markToSend,
  type DefectRow,
  type DefectText,
} from '@/db/defects'
import { markedOf, type MarkedRow } from '@/db/marked-screens'
import { notify } from '@/db/notify'
import { eventsOf } from '@/db/logs'
import { casesOfCause } from '@/db/run-causes'
import { listEnvironments } from '@/db/workspace'
import type { DefectEvidence } from '@/db/schema'
import type { KnownDefect } from '@/core/view-models'
import { knownLike } from '../triage'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, validatorOf, type BodyOf } from '../http/validator'
import { mailLine } from '../mail'
import { ownerOfFailure } from './owners'
import { enqueueSend } from './queue'
import { trackerLine } from './tracker'

const LINE = { type: 'string', minLength: 1, maxLength: 200 } as const
const TEXT = { type: 'string', maxLength: 20_000 } as const
const text = {
  title: LINE,
  steps: TEXT,
  expected: TEXT,
  actual: TEXT,
  severity: { enum: ['low', 'normal', 'high', 'critical'] },
} as const
/** With an address a defect is mailed there; without, it goes to the tracker. */
const MAIL = { type: 'string', pattern: '^[^@\\s,<>]+@[^@\\s,<>]+$', maxLength: 200 } as const
export const sendBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: { mailTo: MAIL },
})
const TEXT_FIELDS = ['title', 'steps', 'expected', 'actual', 'severity'] as const

export const logBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['attemptId', 'evidence', 'send', ...TEXT_FIELDS],
  properties: {
    ...text,
    attemptId: { type: 'string', pattern: '^[0-9a-f-]{36}$' },
    evidence: { type: 'array', items: { type: 'string', maxLength: 64 }, maxItems: 50 },
    send: { type: 'boolean' },
    mailTo: MAIL,
  },
})
export type LogRequest = BodyOf<typeof logBody>
export const editBody = validatorOf<DefectText & { version: number }>()({
  type: 'object',
  additionalProperties: false,
  required: ['version', ...TEXT_FIELDS],
  properties: { ...text, version: { type: 'integer' } },
})

export type Draft = DefectDraft & {
  /** Where it happens and since when, in sentences. */
  occurs: string
  severity: DefectRow['severity']
  /** What speaks for that severity. */
  because: string
  environment: string
  build: string
  caseTitle: string
  runId: number
  evidence: (DefectEvidence & { title: string })[]
  ways: ('tracker' | 'mail')[]
  owner: Owner | null
  known: KnownDefect[]
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
    ...(await howOften(ctx, attempt.id, caseRun, frozen, testCase.priority)),
    environment: frozen.environment.title,
    build: frozen.build,
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

/** Where it happens and since when, from the newest results of the case, and how severe that makes it. A day
 * is one of the workspace's clock, UTC. */
async function howOften(
  { db }: Pick<Context, 'db'>,
  attemptId: string,
  { caseKey, runId }: Pick<CaseRunRow, 'caseKey' | 'runId'>,
  { environment, build }: { environment: { key: string; title: string }; build: string },
  priority: DefectRow['severity'],
): Promise<Pick<Draft, 'occurs' | 'severity' | 'because'>> {
  const [rows, environments, cases] = await Promise.all([
    triedByBuild(db, caseKey, RESULTS_MOST),
    listEnvironments(db),
    casesOfCause(db, runId, attemptId),
  ])
  const titles = new Map(environments.map(({ key, title }) => [key, title]))
  const tried = rows.map(({ firstAt, ...row }) => ({
    ...row,
    environment:
      row.environment === environment.key
        ? environment.title
        : (titles.get(row.environment) ?? row.environment),
    firstMs: Date.parse(firstAt),
  }))
  const now = tried.filter((one) => one.build === build)
  const failing = now.filter(({ failed }) => failed > 0)
  const sum = (of: 'failed' | 'of') => failing.reduce((all, one) => all + one[of], 0)
  return {
    occurs: occursWords(tried, { environment: environment.title, build }, (ms) =>
      new Date(ms).toISOString().slice(0, 10),
    ),
    ...proposeSeverity({
      priority,
      environments: { failed: failing.length, of: now.length },
      times: { failed: sum('failed'), of: sum('of') },
      ...(cases !== undefined && { cases }),
    }),
  }
}
const RESULTS_MOST = 500

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

/** Saves a defect; with `send`, hands it to the worker in the same transaction. @returns the saved row */
export async function logDefect(ctx: Context, request: LogRequest, who: string): Promise<DefectRow> {
  const { attemptId, evidence, send, mailTo, ...words } = request
  const draft = await draftFrom(ctx, attemptId)
  const { caseRun } = await attemptContext(ctx, attemptId)
  return ctx.db.transaction(async (tx) => {
    const kept = draft.evidence
      .filter(({ hash }) => evidence.includes(hash))
      .map(({ kind, hash }) => ({ kind, hash }))
    const defect = await addDefect(
      tx,
      {
        ...words,
        attemptId,
        evidence: kept,
        environment: draft.environment,
        occurs: draft.occurs,
        build: draft.build,
        caseKey: caseRun.caseKey,
        runId: caseRun.runId,
        createdBy: who,
      },
      ctx.now,
    )
    await note(tx, who, 'defect.log', String(defect.id), { title: defect.title })
    if (send) {
      await markToSend(tx, defect.id, mailTo ?? null)
      await enqueueSend(tx, defect.id)
    }
    await notify(tx, 'defects', defect.id)
    return { ...defect, mailTo: mailTo ?? null, state: send ? 'to-send' : 'draft' }
  })
}

/** Changes a draft's words. @throws {Problem} CHANGED_MEANWHILE when somebody else did, or it has been
 * sent */
export async function changeDefect(
  ctx: Context,
  id: number,
  { version, ...words }: DefectText & { version: number },
  who: string,
): Promise<DefectRow> {
  return ctx.db.transaction(async (tx) => {
    const row = await editDefect(tx, id, version, words)
    if (!row)
      throw new Problem(
        'CHANGED_MEANWHILE',
        'This defect was changed or sent in the meantime. Your words are still here; read the newer ones first.',
        await defectById(tx, id),
      )
    await note(tx, who, 'defect.edit', String(id))
    await notify(tx, 'defects', id)
    return row
  })
}

/** Sends a draft, or one that waits, now.
 * @param mailTo where it is mailed to; absent: where it was meant to go, at first the tracker
 * @throws {Problem} CHANGED_MEANWHILE */
export async function sendNow(ctx: Context, id: number, who: string, mailTo?: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await markToSend(tx, id, mailTo)))
      throw new Problem('CHANGED_MEANWHILE', 'It has been sent already.')
    await enqueueSend(tx, id)
    await note(tx, who, 'defect.send', String(id), mailTo === undefined ? {} : { mailTo })
    await notify(tx, 'defects', id)
  })
}

/** Newest first. */
export const allDefects = (ctx: Context): Promise<DefectRow[]> => listDefects(ctx.db)

/** The background process. Any number may run: leases are expired by one statement, jobs are taken by one
 * worker each. */
import { setTimeout } from 'node:timers/promises'
import { run, type Runner } from 'graphile-worker'
import { makeContext } from '@/server/context'
import {
  enqueueTrackerReads,
  READ_TRACKER,
  readTrackerStates,
  ATTACH_EVIDENCE,
  attachEvidence,
  SAY_AT_TRACKER,
  SEND_DEFECT,
  sendMessages,
  sendDefect,
  goOnShortening,
} from '@/server/defects'
import { enqueueDue, READ_REPOSITORY, readRepository } from '@/server/definitions'
import { dropOldEvidence } from '@/server/evidence'
import { startDue } from '@/server/rota'
import { dropOldTries } from '@/server/people'
import { makeOpenings, packLongLogs, packOldLogs } from '@/server/reading'
import { enqueueDueMails, MAIL_REPORT, mailReport } from '@/server/reports/mails'
import { dropRehearsals, forecastFinishes, repairRunNumbers } from '@/server/runs'
import { dropScreens } from '@/server/live'
import { READ_SCREEN, readScreen } from '@/server/screens'
import { sealAudit, auditHead } from '@/server/audit'
import { endOverdue, endUnreported, expireLeases, wakeStalled } from '@/server/dispatch'
import { keepCauses } from '@/server/triage'
import { dropOldMessages, TELL, tellHook, type Told } from '@/server/triggers'

const ctx = makeContext(process.env)
/** Often enough that lost work waits no longer than a tenth of a lease. */
const SWEEP_MS = Math.min(3000, ctx.leaseMs / 10)

const say = (text: string) => console.log(new Date().toISOString().slice(11, 19), text)
const ending = new AbortController()
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => ending.abort())

const runner: Runner = await run({
  pgPool: ctx.connection.pool,
  concurrency: 3,
  noHandleSignals: true,
  pollInterval: 1000,
  taskList: {
    [SEND_DEFECT]: (payload) => sendDefect(ctx, (payload as { defectId: number }).defectId),
    [SAY_AT_TRACKER]: (payload) => sendMessages(ctx, (payload as { defectId: number }).defectId),
    [ATTACH_EVIDENCE]: (payload) => attachEvidence(ctx, (payload as { defectId: number }).defectId),
    [READ_TRACKER]: async () => void (await readTrackerStates(ctx)),
    [TELL]: (payload) => tellHook(ctx, payload as Told, process.env.OAK_URL ?? 'http://127.0.0.1:4600'),
    [MAIL_REPORT]: (payload) => mailReport(ctx, payload as { mail: string; run?: number }),
    [READ_SCREEN]: (payload) => readScreen(ctx, (payload as { hash: string }).hash),
    [READ_REPOSITORY]: async (payload) => void (await readRepository(ctx, (payload as { id: number }).id)),
  },
})
say('worker: ready')

/** Timers count minutes and rehearsals a day: looking every half minute is often enough. */
const CHORES_MS = 30_000
let choresDue = 0
/** The end of each running run is forecast anew this often, or as seldom as keeps it a sixtieth of the
 * time. */
const [FINISH_MS, FINISH_PAUSE] = [10_000, 60]
let finishDue = 0
/** A long log opens slowly until it is in one piece, and people open it just when its attempt has ended. */
const LONG_LOGS_MS = 3000
let longLogsDue = 0
const EVIDENCE_MS = 3_600_000
/** The end of the audit trail is written into the log, where a database that is changed does not reach. */
let headDue = 0
let evidenceDue = CHORES_MS // not while everything starts

/** A failure stands with its cause within two seconds; what takes long is done less often. */
const [CAUSES_MS, CAUSES_PAUSE] = [500, 1]
async function tellCausesApart(): Promise<void> {
  while (!ending.signal.aborted) {
    const begun = performance.now()
    await keepCauses(ctx).catch((error: Error) =>
      say(`the failures of runs could not be told apart and wait: ${error.name}`),
    )
    const pause = Math.max(CAUSES_MS, (performance.now() - begun) * CAUSES_PAUSE)
    await setTimeout(pause, undefined, { signal: ending.signal }).catch(() => {}) // woken early to end
  }
}
const tellingApart = tellCausesApart()

while (!ending.signal.aborted) {
  if (performance.now() >= choresDue) {
    choresDue = performance.now() + CHORES_MS
    const dropped = await enqueueDue(ctx)
      .then(() => enqueueDueMails(ctx))
      .then(() => enqueueTrackerReads(ctx))
      .then(() => dropOldMessages(ctx))
      .then(() => dropScreens(ctx))
      .then(() => dropOldTries(ctx))
      .then(() => repairRunNumbers(ctx))
      .then(() => packOldLogs(ctx))
      .then(() => makeOpenings(ctx))
      .then(() => dropRehearsals(ctx))
      .catch((error: Error) => {
        say(`the chores failed and are done again: ${error.name}`)
        return 0
      })
    if (dropped > 0) say(`${dropped} old ${dropped === 1 ? 'rehearsal' : 'rehearsals'} deleted`)
  }
  if (performance.now() >= finishDue) {
    const begun = performance.now()
    await forecastFinishes(ctx).catch((error: Error) =>
      say(`the ends of runs could not be forecast: ${error.name}`),
    )
    finishDue = performance.now() + Math.max(FINISH_MS, (performance.now() - begun) * FINISH_PAUSE)
  }
  if (performance.now() >= longLogsDue) {
    await packLongLogs(ctx)
      .then((packed) => (packed > 0 ? makeOpenings(ctx) : 0))
      .catch((error: Error) => say(`long logs could not be packed and wait: ${error.name}`))
    longLogsDue = performance.now() + LONG_LOGS_MS
  }
  await goOnShortening(ctx).catch((error: Error) =>
    say(`failures could not be tried with fewer steps, which is done again: ${error.name}`),
  )
  if (performance.now() >= headDue) {
    headDue = performance.now() + EVIDENCE_MS
    const head = await auditHead(ctx).catch(() => undefined)
    if (head) say(`the audit trail has ${head.seal} lines and ends with ${head.hash}`)
  }
  if (performance.now() >= evidenceDue) {
    evidenceDue = performance.now() + EVIDENCE_MS
    const { attempts, files } = await dropOldEvidence(ctx).catch((error: Error) => {
      say(`old evidence could not be deleted, which is tried again in an hour: ${error.name}`)
      return { attempts: 0, files: 0 }
    })
    if (attempts + files > 0)
      say(`the time of evidence of ${attempts} attempts was over; ${files} files deleted`)
  }
  for (const { rotation, at, did, why } of await startDue(ctx).catch((error: Error) => {
    say(`the rota could not be looked at and is again: ${error.name}`)
    return []
  }))
    say(`${rotation}, planned for ${at}: ${did}${why ? `, ${why}` : ''}`)
  for (const id of await endOverdue(ctx).catch(() => []))
    say(`run ${id} went on for longer than it may and is being cancelled`)
  const lost = await expireLeases(ctx).catch((error: Error) => {
    say(`the sweep failed and is done again: ${error.name}`)
    return 0
  })
  if (lost > 0) say(`${lost} expired ${lost === 1 ? 'lease' : 'leases'}: the work waits again`)
  const sealed = await sealAudit(ctx).catch(() => 0)
  if (sealed >= 500) await sealAudit(ctx).catch(() => 0)
  const silent = await endUnreported(ctx).catch(() => 0)
  if (silent > 0)
    say(
      `${silent} ${silent === 1 ? 'attempt' : 'attempts'} of which its agent says nothing: the work ` +
        'waits again',
    )
  for (const id of await wakeStalled(ctx).catch(() => [])) say(`run ${id} stood still and goes on`)
  await setTimeout(SWEEP_MS, undefined, { signal: ending.signal }).catch(() => {}) // woken early to end
}
await tellingApart
await runner.stop()
await ctx.notifier.flush()
await ctx.connection.close()
process.exit()

/** All an agent needs to carry out an attempt. */
import { seedOf, type Work } from '@/core/execution'
import { referencesIn } from '@/core/model'
import type { ClaimedAttempt, ClaimedCaseRun } from '@/db/claim'
import { attemptsOf, takeHandoffs } from '@/db/settle'
import { listDatabases } from '@/db/workspace'
import type { Context } from '../context'
import { recoveryOf } from '../recovery'
import { openSecrets } from '../secrets'
import { frozenRun, type Frozen } from './frozen'

export async function workOf(ctx: Context, caseRun: ClaimedCaseRun, attempt: ClaimedAttempt): Promise<Work> {
  const frozen = await frozenRun(ctx.db, caseRun.runId)
  const asks = frozen.asks(caseRun.caseKey)
  const secretNames = [...asks.secrets, ...referencesIn(caseRun.parameters).flatMap((reference) => (reference.startsWith('secret.') ? [reference.slice('secret.'.length)] : []))]
  const before = caseRun.policies.length > 0 && attempt.number > 1 ? (await attemptsOf(ctx.db, caseRun.id)).filter(({ number, role }) => number < attempt.number && role === attempt.role) : []
  const [secrets, handoffs, databases, recovery] = await Promise.all([
    secretNames.length > 0 ? openSecrets(ctx, secretNames) : {}, caseRun.needs.length > 0 || frozen.hasBefore ? takeHandoffs(ctx.db, caseRun) : {},
    asks.databases.size > 0 ? listDatabases(ctx.db) : [], recoveryOf(ctx, caseRun, frozen.policies ?? {}, before),
  ])
  return {
    attemptId: attempt.id,
    lease: attempt.lease,
    number: attempt.number,
    runId: caseRun.runId,
    build: frozen.build,
    case: frozen.cases[caseRun.caseKey]!,
    routines: Object.values(frozen.routines),
    environment: environmentOf(frozen, caseRun, attempt.role),
    ...(caseRun.row && { row: caseRun.row }),
    parameters: caseRun.parameters,
    applications: frozen.applications,
    databases: Object.fromEntries(databases.filter(({ key }) => asks.databases.has(key)).map(({ key, url }) => [key, url])),
    secrets,
    handoffs,
    startedAt: attempt.claimedAt.toISOString(),
    limitMs: caseRun.limitMs,
    ...(frozen.how && { how: frozen.how }),
    ...(attempt.role !== '' && { role: attempt.role }),
    ...recovery,
    seed: seedFor(caseRun, attempt),
  }
}

/** Depends on what is run and on which try it is, not on when or where: a repeat meets the same chances. */
const seedFor = ({ runId, position, environment }: ClaimedCaseRun, { number, role }: ClaimedAttempt): number => seedOf(`${runId}/${position}/${environment}/${number}${role && `/${role}`}`)

function environmentOf({ environments, roleEnvironments = [] }: Frozen, { environment, roles, roleEnvironments: keys }: ClaimedCaseRun, role: string) {
  const wanted = role === '' ? environment : keys[roles.indexOf(role)]
  return [...environments, ...roleEnvironments].find(({ key }) => key === wanted)!
}

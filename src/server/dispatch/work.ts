/** All an agent needs to carry out an attempt. */
import { seedOf, type Work } from '@/core/execution'
import { secretsIn } from '@/core/model'
import type { ClaimedAttempt, ClaimedCaseRun } from '@/db/claim'
import { attemptsOf } from '@/db/endings'
import { takeHandoffs } from '@/db/handoffs'
import { pictureBytes } from '@/db/pictures'
import { listDatabases } from '@/db/workspace'
import type { Context } from '../context'
import { recoveryOf } from '../recovery'
import { openColumn } from '../sealing'
import { acceptedScreens } from '../screens'
import { openSecrets } from '../secrets'
import { frozenRun, type Frozen } from './frozen'

export async function workOf(ctx: Context, caseRun: ClaimedCaseRun, attempt: ClaimedAttempt): Promise<Work> {
  const frozen = await frozenRun(ctx.db, caseRun.runId)
  const reach = frozen.reach(caseRun)
  const secretNames = [...new Set([...reach.secrets, ...secretsIn(caseRun.parameters)])]
  const before =
    caseRun.policies.length > 0 && attempt.number > 1
      ? (await attemptsOf(ctx.db, caseRun.id)).filter(
          ({ number, role }) => number < attempt.number && role === attempt.role,
        )
      : []
  const environment = environmentOf(frozen, caseRun, attempt.role)
  const [secrets, handoffs, databases, recovery, pictures, screens] = await Promise.all([
    secretNames.length > 0
      ? openSecrets(ctx, secretNames, { agentId: attempt.agentId, touched: reach.applications })
      : {},
    caseRun.needs.length > 0 || frozen.hasBefore ? takeHandoffs(ctx.db, caseRun) : {},
    reach.databases.length > 0 ? listDatabases(ctx.db) : [],
    recoveryOf(ctx, caseRun, frozen.policies ?? {}, before),
    reach.pictures.length > 0 ? pictureBytes(ctx.db, reach.pictures) : [],
    reach.screens.length > 0 ? acceptedScreens(ctx, caseRun.caseKey, environment, reach.screens) : undefined,
  ])
  return {
    agentId: attempt.agentId,
    attemptId: attempt.id,
    lease: attempt.lease,
    number: attempt.number,
    runId: caseRun.runId,
    build: frozen.build,
    case: frozen.cases[caseRun.caseKey]!,
    // a person may use any
    routines: frozen.live ? Object.values(frozen.routines) : reach.routines,
    environment,
    ...(caseRun.row && { row: caseRun.row }),
    parameters: caseRun.parameters,
    applications: frozen.applications,
    databases: Object.fromEntries(
      databases
        .filter(({ key }) => reach.databases.includes(key))
        .map(({ key, url }) => [key, openColumn(url)]),
    ),
    secrets,
    ...(pictures.length > 0 && { pictures: Object.fromEntries(pictures.map(base64Of)) }),
    ...(screens && { screens }),
    handoffs: opened(handoffs),
    startedAt: attempt.claimedAt.toISOString(),
    limitMs: caseRun.limitMs,
    ...(frozen.how && { how: frozen.how }),
    ...(frozen.live && { live: true }),
    ...(attempt.role !== '' && { role: attempt.role }),
    ...recovery,
    seed: seedFor(caseRun, attempt),
  }
}

const base64Of = ({ name, bytes }: { name: string; bytes: Buffer }) =>
  [name, bytes.toString('base64')] as const

const opened = (values: Record<string, string>) =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, openColumn(value)]))

/** Depends on what is run and on which try it is, not on when or where: a repeat meets the same chances. */
const seedFor = (
  { runId, position, environment }: ClaimedCaseRun,
  { number, role }: ClaimedAttempt,
): number => seedOf(`${runId}/${position}/${environment}/${number}${role && `/${role}`}`)

function environmentOf(
  { environments, roleEnvironments = [] }: Frozen,
  { environment, roles, roleEnvironments: keys }: ClaimedCaseRun,
  role: string,
) {
  const wanted = role === '' ? environment : keys[roles.indexOf(role)]
  return [...environments, ...roleEnvironments].find(({ key }) => key === wanted)!
}

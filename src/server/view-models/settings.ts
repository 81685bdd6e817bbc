import type { SettingsViewModel } from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { tokenLines } from '@/db/tokens'
import { pictureLines } from '@/db/pictures'
import { secretLines } from '@/db/secrets'
import { setting } from '@/db/settings'
import { buildLines, listApplications, listDatabases } from '@/db/workspace'
import type { Context } from '../context'
import { loadLibrary, type Loaded } from '../definitions'
import { retention } from '../evidence'
import { openColumn } from '../sealing'
import { ownerRules, trackerLine, trackerMapping } from '../defects'
import { mailLine } from '../mail'
import { blackoutCalendars } from '../rota'
import { liveLimits } from '../runs'
import { hookLines } from '../triggers'
import { addressOf, secretsIn, stepsOfCase, targetsOf } from '@/core/model'

/** What the workspace is set to: never a value of a secret, a token's text or a password. */
export async function settingsViewModel(ctx: Context): Promise<SettingsViewModel> {
  const [
    library,
    applications,
    builds,
    secrets,
    pictures,
    tokens,
    databases,
    agents,
    calendars,
    hooks,
    kept,
    limits,
    owners,
    tracker,
    mapping,
    mail,
    isDemo,
  ] = await Promise.all([
    loadLibrary(ctx),
    listApplications(ctx.db),
    buildLines(ctx.db),
    secretLines(ctx.db),
    pictureLines(ctx.db),
    tokenLines(ctx.db),
    listDatabases(ctx.db),
    listAgents(ctx.db, ctx.leaseMs),
    blackoutCalendars(ctx),
    hookLines(ctx),
    retention(ctx),
    liveLimits(ctx),
    ownerRules(ctx),
    trackerLine(ctx),
    trackerMapping(ctx),
    mailLine(ctx),
    setting(ctx.db, 'demo'),
  ])
  const used = usesOf(library)
  return {
    secrets: secrets.map(({ setAt, ...secret }) => ({
      ...secret,
      setAt: setAt.toISOString(),
      uses: used.secrets.get(secret.name) ?? 0,
    })),
    pictures: pictures.map(({ setAt, ...picture }) => ({
      ...picture,
      setAt: setAt.toISOString(),
      uses: used.pictures.get(picture.name) ?? 0,
    })),
    applications: applications.map((application) => ({
      ...application,
      uses: used.applications.get(application.key) ?? 0,
    })),
    builds: builds.map(({ label, createdAt, runs }) => ({
      label,
      createdAt: createdAt.toISOString(),
      runs,
    })),
    unknown: {
      applications: lacking(used.applications, applications),
      databases: lacking(used.databases, databases),
    },
    pools: [...new Set(agents.map(({ pool }) => pool))].sort(),
    missing: [...used.secrets.keys()]
      .filter((name) => !secrets.some((secret) => secret.name === name))
      .sort(),
    tokens: tokens.map(({ id, purpose, name, createdBy, createdAt, usedAt }) => ({
      id,
      purpose,
      name,
      createdBy,
      createdAt: createdAt.toISOString(),
      usedAt: usedAt?.toISOString() ?? null,
      agents: agents.filter((agent) => agent.tokenId === id).map((agent) => agent.name),
    })),
    databases: databases.map(({ key, url }) => ({
      key,
      address: withoutPassword(openColumn(url)),
      uses: used.databases.get(key) ?? 0,
    })),
    calendars: calendars.map((calendar) => ({
      ...calendar,
      uses: [...library.rotations.values()].filter(({ when }) => when?.calendars.includes(calendar.key))
        .length,
    })),
    hooks,
    tracker,
    trackerMapping: mapping,
    mail,
    mailbox: isDemo && mail && tracker && mail.host === '127.0.0.1' ? `${tracker.url}/mails` : null,
    retention: kept,
    liveLimits: limits,
    ownerRules: owners,
  }
}

/** Names that definitions use and Settings does not have. */
const lacking = (used: ReadonlyMap<string, number>, there: readonly { key: string }[]): string[] =>
  [...used.keys()].filter((key) => !key.includes('${') && !there.some((one) => one.key === key)).sort()

type Uses = Record<'secrets' | 'databases' | 'applications' | 'pictures', Map<string, number>>
/** How many cases and routines name each secret, database, application and picture. */
function usesOf(library: Loaded): Uses {
  const [secrets, databases, applications, pictures] = [
    new Map<string, number>(),
    new Map<string, number>(),
    new Map<string, number>(),
    new Map<string, number>(),
  ]
  const count = (map: Map<string, number>, names: Iterable<string>) => {
    for (const name of new Set(names)) map.set(name, (map.get(name) ?? 0) + 1)
  }
  for (const one of [...library.cases.values(), ...library.routines.values()]) {
    const steps = stepsOfCase(one)
    count(secrets, secretsIn([steps, one.parameters]))
    count(
      pictures,
      steps.flatMap((step) => targetsOf(step).flatMap(({ picture }) => picture ?? [])),
    )
    count(
      databases,
      steps.flatMap((step) => (step.verb === 'query' ? [step.database] : [])),
    )
    count(
      applications,
      steps.flatMap((step) => addressOf(step)?.split(':', 1) ?? []),
    )
  }
  return { secrets, databases, applications, pictures }
}

function withoutPassword(address: string): string {
  const url = new URL(address)
  url.password = ''
  return url.href
}

/** The rota: what was and is planned to start, on which seats, and where it clashes. */
import { blackoutSpans } from '@/core/calendar'
import { BadInput } from '@/core/compute'
import {
  followingStarts,
  pickEnvironments,
  whenWords,
  type BlackoutCalendar,
  type LeadingStart,
  type RotaEntry,
} from '@/core/rota'
import { rotaClashes, startsOf } from '@/core/rota/starting'
import type { Rotation } from '@/core/model'
import type { RotaClash, RotaOccurrence, RotaRotation, RotaViewModel } from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { startsBetween, type StartRow } from '@/db/rota'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { blackoutCalendars } from '../rota'
import { outlookOf, type RotationOutlook } from '../rota/outlooks'
import { lackingWords } from '../runs'

/** Something that takes no time at all would be drawn as nothing. */
const FLAT_MS = 60_000
/** Agents that were heard within this time count: while some come back, nothing clashes that did not
 * before. */
const AWAY_MS = 10 * 60_000
type Known = { rotation: Rotation; found: RotationOutlook; line: RotaRotation }

export async function rotaViewModel(ctx: Context, from: Date, to: Date): Promise<RotaViewModel> {
  const lenient = { ...ctx, leaseMs: Math.max(ctx.leaseMs, AWAY_MS) }
  const [library, agents, calendars, past] = await Promise.all([
    loadLibrary(ctx),
    listAgents(ctx.db, lenient.leaseMs),
    blackoutCalendars(ctx),
    startsBetween(ctx.db, from, to),
  ])
  const now = new Date()
  const here = agents.filter(({ alive, draining }) => alive && !draining)
  const fleet = here
    .map(({ name, pool, seats, environments }) => `${name} ${pool} ${seats} ${environments.join()}`)
    .join('\n')
  const known: Known[] = []
  for (const rotation of [...library.rotations.values()].sort((a, b) => a.title.localeCompare(b.title))) {
    const found = await outlookOf(lenient, rotation, fleet)
    known.push({ rotation, found, line: lineOf(rotation, found, calendars, now, library.rotations) })
  }
  const pools = [...new Set(agents.map(({ pool }) => pool))].sort().map((pool) => ({
    id: pool,
    seats: here.filter((agent) => agent.pool === pool).reduce((sum, { seats }) => sum + seats, 0),
  }))
  const ahead = known.flatMap((one) =>
    plannedOf(one, calendars, new Date(Math.max(now.getTime(), from.getTime())), to),
  )
  const behind = past.flatMap((row): RotaOccurrence[] => {
    const one = known.find(({ rotation }) => rotation.key === row.rotationKey)
    return one
      ? [
          {
            ...blockOf(one),
            id: `${row.rotationKey}@${row.at.toISOString()}`,
            at: row.at.toISOString(),
            local: row.at.toISOString(),
            state: row.state,
            ...(row.runId !== null && { runId: row.runId }),
            ...(row.why !== null && { note: row.why }),
            endedAt: row.endedAt?.toISOString() ?? null,
            ...(row.endedAt && row.counts && { outcome: outcomeOf(row.counts) }),
          },
        ]
      : []
  })
  const occurrences = [...behind, ...ahead, ...followersOf(known, [...behind, ...ahead], now, to)]
  for (const { line } of known)
    line.next ??= occurrences.find(({ rotation, behind: of }) => of && rotation === line.key)?.at ?? null
  return {
    now: now.toISOString(),
    from: from.toISOString(),
    to: to.toISOString(),
    pools,
    rotations: known.map(({ line }) => line),
    occurrences,
    clashes: clashesOf(known, occurrences, pools, here, now),
    blackouts: blackoutsOf(known, calendars, from, to),
  }
}

function followsWords(follows: Rotation['follows'], rotations: ReadonlyMap<string, Rotation>): string | null {
  if (!follows) return null
  const title = rotations.get(follows.rotation)?.title ?? follows.rotation
  return `after ${title}${follows.on === 'passed' ? ', when it passed' : ''}`
}

function outcomeOf(counts: NonNullable<StartRow['counts']>): RotaOccurrence['outcome'] {
  const { failed = 0, errored = 0, cancelled = 0, passed = 0, recovered = 0 } = counts
  const bad = [
    failed > 0 && `${failed} failed`,
    errored > 0 && `${errored} errored`,
    cancelled > 0 && `${cancelled} cancelled`,
  ].filter(Boolean)
  const good = passed + recovered
  return { passed: bad.length === 0, words: [`${good} passed`, ...bad].join(', ') }
}

/** Starts behind others, at the likely ends of these: of what is planned, and of what is at work now. */
function followersOf(
  known: readonly Known[],
  starts: readonly RotaOccurrence[],
  now: Date,
  to: Date,
): RotaOccurrence[] {
  const leading = starts.flatMap(({ id, rotation, at, p50Ms, state, endedAt }): LeadingStart[] => {
    const isOpen = state === 'planned' || (state === 'started' && endedAt === null)
    const endMs = Math.max(now.getTime(), Date.parse(at) + p50Ms)
    return isOpen ? [{ id, rotation, endAt: new Date(endMs).toISOString() }] : []
  })
  const followers = known.flatMap(({ rotation: { key, follows, paused }, line }) =>
    follows && !paused
      ? [{ rotation: key, follows: follows.rotation, p50Ms: Math.max(FLAT_MS, line.p50Ms) }]
      : [],
  )
  const byKey = new Map(known.map((one) => [one.rotation.key, one]))
  return followingStarts(leading, followers)
    .filter(({ at }) => Date.parse(at) < to.getTime())
    .map(({ rotation, at, behind }): RotaOccurrence => {
      const one = byKey.get(rotation)!
      const title = byKey.get(behind.rotation)?.rotation.title ?? behind.rotation
      return {
        ...blockOf(one),
        id: `${rotation}@${at} ${behind.id}`,
        at,
        local: at,
        state: 'planned',
        endedAt: null,
        behind: title,
        note: `after ${title}${one.rotation.follows?.on === 'passed' ? ', if that passes' : ''}: about then`,
      }
    })
}

function lineOf(
  rotation: Rotation,
  { outlook, faults, lacking }: RotationOutlook,
  calendars: readonly BlackoutCalendar[],
  now: Date,
  rotations: ReadonlyMap<string, Rotation>,
): RotaRotation {
  const { key, title, when, follows, paused } = rotation
  const next =
    when && !paused
      ? safely(
          () =>
            startsOf(
              when,
              calendars,
              now.toISOString(),
              new Date(now.getTime() + 40 * 86_400_000).toISOString(),
            )[0]?.at,
        )
      : undefined
  return {
    key,
    title,
    paused,
    when: when ? whenWords(when) : followsWords(follows, rotations),
    timezone: when?.timezone ?? null,
    next: next ?? null,
    caseRuns: outlook?.caseRuns ?? 0,
    p50Ms: outlook?.p50Ms ?? 0,
    p90Ms: outlook?.p90Ms ?? 0,
    seats: outlook?.usedByPool ?? {},
    ...(faults[0] && { problem: faults[0].message }),
    ...((outlook?.unplaceable.length ?? 0) > 0 &&
      faults.length === 0 && {
        problem:
          `${outlook!.unplaceable.reduce((sum, { count }) => sum + count, 0)} case runs can be placed ` +
          'nowhere now',
      }),
    ...(lacking.length > 0 && faults.length === 0 && { problem: lackingWords(lacking) }),
  }
}

const blockOf = ({ rotation, line }: Known) => ({
  rotation: rotation.key,
  title: rotation.title,
  p50Ms: Math.max(FLAT_MS, line.p50Ms),
  p90Ms: Math.max(FLAT_MS, line.p90Ms),
  seats: line.seats,
})

function plannedOf(
  known: Known,
  calendars: readonly BlackoutCalendar[],
  from: Date,
  to: Date,
): RotaOccurrence[] {
  const { when, paused, key } = known.rotation
  if (!when || paused || from >= to) return []
  const starts = safely(() => startsOf(when, calendars, from.toISOString(), to.toISOString())) ?? []
  return starts.map(({ at, local, note, movedFrom }) => ({
    ...blockOf(known),
    id: `${key}@${at}`,
    at,
    local,
    state: 'planned' as const,
    endedAt: null,
    ...(note && { note }),
    ...(movedFrom && { movedFrom }),
  }))
}

function clashesOf(
  known: readonly Known[],
  occurrences: readonly RotaOccurrence[],
  pools: { id: string; seats: number }[],
  agents: { pool: string; seats: number; environments: string[] }[],
  now: Date,
): RotaClash[] {
  const alive = pools.filter(({ seats }) => seats > 0)
  const entries = occurrences
    .filter(
      ({ state, endedAt, at, p90Ms }) =>
        state === 'planned' ||
        (state === 'started' && endedAt === null && Date.parse(at) + p90Ms > now.getTime()),
    )
    .map((one): RotaEntry => {
      const { rotation, found } = known.find(({ rotation: { key } }) => key === one.rotation)!
      return {
        id: one.id,
        at: one.at,
        p50Ms: one.p50Ms,
        p90Ms: one.p90Ms,
        seats: one.seats,
        movable: one.state === 'planned' && !one.behind && Date.parse(one.at) > now.getTime(),
        elsewhere: elsewhere(rotation, found, one.seats, alive, agents),
      }
    })
  return rotaClashes(alive, entries, now.toISOString())
}

/** Other pools in which every environment of a rotation is served. */
function elsewhere(
  { where }: Rotation,
  { basis }: RotationOutlook,
  seats: Record<string, number>,
  pools: { id: string; seats: number }[],
  agents: { pool: string; environments: string[] }[],
): RotaEntry['elsewhere'] {
  if (!basis || where.pool === undefined) return []
  const { keys } = pickEnvironments(where, basis.environments)
  const wanted = Object.values(seats).reduce((sum, count) => sum + count, 0)
  return pools
    .filter(
      ({ id }) =>
        id !== where.pool &&
        keys.every((key) => agents.some((agent) => agent.pool === id && agent.environments.includes(key))),
    )
    .map(({ id, seats: have }) => ({ pool: id, seats: Math.min(have, wanted) }))
}

function blackoutsOf(
  known: readonly Known[],
  calendars: readonly BlackoutCalendar[],
  from: Date,
  to: Date,
): RotaViewModel['blackouts'] {
  const found = new Map<string, RotaViewModel['blackouts'][number]>()
  for (const {
    rotation: { when, title },
  } of known) {
    if (!when) continue
    const own = [
      { title: `of ${title}`, blackout: when.blackout },
      ...calendars.filter(({ key }) => when.calendars.includes(key)),
    ]
    for (const { title: name, blackout } of own) {
      for (const span of safely(() =>
        blackoutSpans({ timezone: when.timezone, blackout, from: from.toISOString(), to: to.toISOString() }),
      ) ?? []) {
        const id = `${span.from} ${span.to} ${name}`
        found.set(id, { ...span, title: name, rotations: [...(found.get(id)?.rotations ?? []), title] })
      }
    }
  }
  return [...found.values()].sort((a, b) => (a.from < b.from ? -1 : 1))
}

/** Times that were sound when they were saved may be none any more: a zone that is gone must not hide the
 * whole rota. */
function safely<T>(work: () => T): T | undefined {
  try {
    return work()
  } catch (error) {
    if (error instanceof BadInput) return undefined
    throw error
  }
}

/** What the bench of a rotation shows beside its text. */
import {
  casesByRule,
  MISSED,
  NEWEST_BUILD,
  ON_BLACKOUT,
  parseRule,
  stagesOf,
  WHILE_RUNNING,
  type Definition,
  type Rotation,
  type RotationPart,
  type RotationTimes,
} from '@/core/model'
import { localOf } from '@/core/calendar'
import { whenWords } from '@/core/rota'
import { startsOf } from '@/core/rota/starting'
import { BadInput } from '@/core/compute'
import type {
  PastForecast,
  RotationBasisViewModel,
  RotationViewModel,
  StartsViewModel,
} from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { pastForecasts } from '@/db/rota'
import { listApplications, listBuilds, listDatabases, listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { loadLibrary, parseBeside, type Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { offersOf } from './offers'
import { validator, validatorOf, type BodyOf } from '../http/validator'
import { basisOf, chosenItems, chosenSuite } from '../runs'
import { workspacePolicy } from '../recovery'
import { blackoutCalendars } from '../rota'

const NEXT_STARTS = 5
const AHEAD_MS = 400 * 86_400_000
const FORECASTS_SHOWN = 12

/** What a rotation may name, and how its forecasts were. @throws {Problem} NOT_FOUND */
export async function rotationViewModel(
  ctx: Context,
  key: string,
  server: string,
): Promise<RotationViewModel> {
  const library = await loadLibrary(ctx)
  if (!library.rotations.has(key)) throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  const [builds, applications, databases, calendars, agents, workspace, past] = await Promise.all([
    listBuilds(ctx.db),
    listApplications(ctx.db),
    listDatabases(ctx.db),
    blackoutCalendars(ctx),
    listAgents(ctx.db, ctx.leaseMs),
    workspacePolicy(ctx),
    pastForecasts(ctx.db, key, FORECASTS_SHOWN),
  ])
  const named = (map: ReadonlyMap<string, Definition>) =>
    [...map.values()]
      .map(({ key: one, title }) => ({ key: one, title }))
      .sort((a, b) => a.title.localeCompare(b.title))
  return {
    server,
    stages: stagesOf(applications),
    builds: [NEWEST_BUILD, ...builds.map(({ label }) => label)],
    calendars: calendars.map(({ key: one, title }) => ({ key: one, title })),
    suites: named(library.suites),
    cases: named(library.cases),
    offers: offersOf(library, applications, databases),
    rotations: named(library.rotations).filter((one) => one.key !== key),
    policies: named(library.policies),
    workspacePolicy: (workspace !== undefined && library.policies.get(workspace)?.title) || null,
    pools: [...new Set(agents.map(({ pool }) => pool))].sort(),
    past: past.map(pastForecast),
  }
}

export const pastForecast = ({
  id,
  startedAt,
  endedAt,
  forecast,
  cancelled,
}: Awaited<ReturnType<typeof pastForecasts>>[number]): PastForecast => ({
  run: id,
  startedAt: startedAt.toISOString(),
  ms: endedAt.getTime() - startedAt.getTime(),
  p50Ms: forecast.p50Ms,
  p90Ms: forecast.p90Ms,
  counts: !cancelled,
})

const part = <const Kind extends string>(kind: Kind) =>
  ({
    type: 'object',
    additionalProperties: false,
    required: [kind],
    properties: { [kind]: { type: 'string' } } as Record<Kind, { type: 'string' }>,
  }) as const
/** `before` and `after` are steps as files have them; what they hold is looked at as in a file. */
export const basisBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['what', 'with', 'before', 'after'],
  properties: {
    what: {
      type: 'array',
      items: { anyOf: [part('suite'), part('rule'), part('case')] },
      maxItems: 500,
    },
    with: { type: 'object', additionalProperties: { type: 'string' }, maxProperties: 100 },
    before: { type: 'array', maxItems: 200 },
    after: { type: 'array', maxItems: 200 },
  },
})
export type BasisRequest = BodyOf<typeof basisBody>

/** All that a forecast is computed from, as the text under edit has it. What is not there is told with its
 * part, and left out.
 * @throws {Problem} BODY_INVALID for steps that are none */
export async function rotationBasis(
  ctx: Context,
  { what, with: given, ...steps }: BasisRequest,
): Promise<RotationBasisViewModel> {
  const [library, environments, { before, after }] = await Promise.all([
    loadLibrary(ctx),
    listEnvironments(ctx.db),
    readSteps(ctx, steps),
  ])
  const parts = what.map((one) => partViewModel(one, library))
  const sound = what.filter((_, i) => parts[i]!.why === undefined)
  const choice = { parts: sound, with: given }
  const { items, leftOut } =
    sound.length > 0
      ? tolerant(() => chosenItems(choice, chosenSuite(choice, library), library))
      : { items: [], leftOut: [] }
  const basis = await basisOf(
    ctx,
    items,
    library,
    environments.map(({ facts }) => facts),
    { before, after },
  )
  return { ...basis, parts, leftOut, parameters: parametersOf(items, given, library) }
}

/** Read as the file of a rotation that has nothing else. */
async function readSteps(
  ctx: Context,
  { before, after }: Pick<BasisRequest, 'before' | 'after'>,
): Promise<Pick<Rotation, 'before' | 'after'>> {
  if (before.length + after.length === 0) return { before: [], after: [] }
  // The steps are read as those of a file, by the same rules, and only they are taken from it. What else a
  // file must have stands for itself; a phase without steps is left out.
  const file = {
    rotation: 'basis',
    title: 'Basis',
    what: [{ suite: 'basis' }],
    where: { environments: ['basis'] },
    ...(before.length > 0 && { before }),
    ...(after.length > 0 && { after }),
  }
  const { definition, problems } = await parseBeside(ctx, 'basis.rotation.yaml', JSON.stringify(file))
  if (definition?.kind === 'rotation') return definition
  const faults = problems.map(({ field, message }) => ({ field, message }))
  throw new Problem(
    'BODY_INVALID',
    faults.map(({ field, message }) => `${field}: ${message}`).join('; '),
    faults,
  )
}

/** Nothing to run is a state of an unfinished rotation, not a refusal. */
function tolerant<T extends { items: unknown[]; leftOut: unknown[] }>(
  choose: () => T,
): T | { items: []; leftOut: [] } {
  try {
    return choose()
  } catch (error) {
    if (error instanceof Problem) return { items: [], leftOut: [] }
    throw error
  }
}

function partViewModel(one: RotationPart, library: Loaded): RotationBasisViewModel['parts'][number] {
  if ('suite' in one) {
    const suite = library.suite(one.suite)
    return suite
      ? { title: suite.title, items: tolerant(() => chosenItems({}, suite, library)).items.length }
      : { title: one.suite, items: 0, why: `there is no suite “${one.suite}”` }
  }
  if ('case' in one) {
    const found = library.case(one.case)
    return found
      ? { title: found.title, items: 1 }
      : { title: one.case, items: 0, why: `there is no case “${one.case}”` }
  }
  const rule = parseRule(one.rule)
  if ('message' in rule) return { title: one.rule, items: 0, why: rule.message }
  const count = casesByRule(rule, library).length
  return { title: one.rule, items: count, ...(count === 0 && { why: 'no case is like this' }) }
}

/** Every value that reaches a case, with where it was given: the nearest wins. */
function parametersOf(
  items: ReturnType<typeof chosenItems>['items'],
  given: Record<string, string>,
  library: Loaded,
): RotationBasisViewModel['parameters'] {
  const found = new Map<string, RotationBasisViewModel['parameters'][number]>()
  for (const { caseKey, with: values, origins } of items) {
    for (const [name, value] of Object.entries({ ...library.case(caseKey)!.parameters, ...values })) {
      const from = name in given ? 'this rotation' : (origins[name] ?? 'the case')
      const id = `${name}\n${value}\n${from}`
      found.set(id, { name, value, from, cases: (found.get(id)?.cases ?? 0) + 1 })
    }
  }
  return [...found.values()].sort((a, b) => a.name.localeCompare(b.name) || b.cases - a.cases)
}

const moment = { type: 'string', maxLength: 40 } as const
const recurrence = { type: 'string', maxLength: 300 } as const
const names = { type: 'array', maxItems: 50, items: { type: 'string', maxLength: 80 } } as const
/** Moments may be none yet, as one types them: that is told in words. */
export const startsBody = validatorOf<RotationTimes>()({
  type: 'object',
  additionalProperties: false,
  required: [
    'rule',
    'timezone',
    'start',
    'except',
    'blackout',
    'calendars',
    'onBlackout',
    'moves',
    'missed',
    'whileRunning',
    'notWith',
  ],
  properties: {
    rule: { type: ['string', 'null'], maxLength: 300 },
    timezone: { type: 'string', maxLength: 80 },
    start: moment,
    until: moment,
    except: { type: 'array', maxItems: 1000, items: moment },
    blackout: {
      type: 'array',
      maxItems: 100,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['start', 'end'],
        properties: { rule: recurrence, start: moment, end: moment },
      },
    },
    calendars: names,
    onBlackout: { enum: ON_BLACKOUT },
    moves: {
      type: 'array',
      maxItems: 1000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['from', 'to'],
        properties: { from: moment, to: moment },
      },
    },
    missed: { enum: MISSED },
    whileRunning: { enum: WHILE_RUNNING },
    notWith: names,
  },
})

/** The next starts of times under edit. @throws {Problem} BODY_INVALID with each fault */
export async function nextStarts(ctx: Context, when: RotationTimes): Promise<StartsViewModel> {
  const now = new Date()
  try {
    const span = [now.toISOString(), new Date(now.getTime() + horizon(when)).toISOString()] as const
    const starts = startsOf(when, await blackoutCalendars(ctx), ...span)
    const open = { ...when, blackout: [], calendars: [] }
    const isKept = starts.length === 0 && startsOf(open, [], ...span).length > 0
    return {
      ...(starts.length === 0 && { none: isKept ? ('blackout' as const) : ('over' as const) }),
      words: whenWords(when),
      now: localOf(now.toISOString(), when.timezone)!,
      starts: starts
        .slice(0, NEXT_STARTS)
        .map(({ at, local, note }) => ({ at, local, ...(note && { note }) })),
    }
  } catch (error) {
    if (error instanceof BadInput) throw new Problem('BODY_INVALID', error.message, error.faults)
    throw error
  }
}

/** Frequent rules need not be looked at for a year to find five. */
const horizon = ({ rule }: RotationTimes) =>
  rule && /FREQ=(HOURLY|MINUTELY|SECONDLY)/i.test(rule) ? 14 * 86_400_000 : AHEAD_MS

import {
  addressAt,
  retriesSchema,
  USUAL_HOW,
  withDefinitions,
  type Definition,
  type Environment,
} from '@/core/model'
import type { Outlook, OutlookBasis } from '@/core/rota'
import { listRepositories } from '@/db/definitions'
import { letBeginAll } from '@/db/endings'
import { addBuild, listApplications, listEnvironments } from '@/db/workspace'
import { note } from '@/db/audit'
import type { Tx } from '@/db/client'
import { later } from '@/db/moment'
import { notify } from '@/db/notify'
import { quarantinedNow } from '@/db/recovery'
import { addRun, type NewRun } from '@/db/runs'
import type { RunSettings } from '@/db/run-settings'
import type { RunSnapshot } from '@/db/schema'
import type { Context } from '../context'
import { fileNameOf, loadLibrary, parseBeside, type Loaded } from '../definitions'
import { validatorOf } from '../http/validator'
import { Problem } from '../http/problems'
import { planned } from '../planning'
import { workspacePolicy } from '../recovery'
import { basisOf, phaseCase } from './basis'
import { chosenItems, chosenSuite } from './choose'
import { plainWhere, runForecast } from './forecast'
import { freeze, layOut } from './lay-out'
import { basisOfPeople, forPeople } from './guided'
import { requireLive, startedAs } from './live'
import { holdLivePlace } from './live-limits'
import { lackingOf, requireSetUp } from './obstacles'
import { requireServed } from './served'
import { environmentsOf, type PlainStart, type StartRequest } from './request'

/** A case may take this long unless it or its entry says otherwise. */
const LIMIT_LEAST_MS = 5_000
const LIMIT_MOST_MS = 3_600_000
/** A rehearsal that nobody kept is deleted after this. */
export const REHEARSAL_KEPT_MS = 24 * 3_600_000

export const startBody = validatorOf<PlainStart>()({
  type: 'object',
  additionalProperties: false,
  required: ['environments', 'build', 'retries', 'limitMs'],
  properties: {
    suite: { type: 'string', maxLength: 80 },
    rule: { type: 'string', maxLength: 300 },
    cases: {
      type: 'array',
      items: { type: 'string', maxLength: 80 },
      minItems: 1,
      maxItems: 5000,
      uniqueItems: true,
    },
    times: { type: 'integer', minimum: 1, maximum: 50 },
    row: { type: 'integer', minimum: 1 },
    with: { type: 'object', additionalProperties: { type: 'string', maxLength: 2000 }, maxProperties: 100 },
    environments: { type: 'array', items: { type: 'string' }, minItems: 1, maxItems: 100, uniqueItems: true },
    build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$' },
    stage: { type: 'string', maxLength: 80 },
    retries: retriesSchema,
    limitMs: { type: 'integer', minimum: LIMIT_LEAST_MS, maximum: LIMIT_MOST_MS },
    title: { type: 'string', minLength: 1, maxLength: 120 },
    priority: { type: 'integer', minimum: -5, maximum: 5 },
    rehearsal: { type: 'boolean' },
    live: { type: 'boolean' },
    guided: {
      type: 'array',
      minItems: 1,
      maxItems: 50,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['person'],
        properties: {
          person: { type: 'string', minLength: 1, maxLength: 120 },
          environments: { type: 'array', items: { type: 'string' }, minItems: 1, maxItems: 100 },
        },
      },
    },
    drafts: {
      type: 'array',
      maxItems: 5,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['kind', 'key', 'source'],
        properties: {
          kind: { enum: ['case', 'routine', 'suite', 'data'] },
          key: { type: 'string', maxLength: 200 },
          source: { type: 'string', maxLength: 500_000 },
        },
      },
    },
  },
})

/** Starts what was chosen: freezes what it uses, lays out its case runs, and wakes the agents. A rehearsal is
 * the same, kept out of history.
 * @throws {Problem} NOT_FOUND, BODY_INVALID, NOTHING_TO_RUN, NOT_SET_UP, ENVIRONMENT_UNSERVED; then nothing
 * was written */
export async function startRun(ctx: Context, request: StartRequest, who: string): Promise<number> {
  const write = await prepareRun(ctx, request, who)
  return ctx.db.transaction(write)
}

/** Prepares a start, for callers that write more in the same transaction. Planned as the forecast says; the
 * forecast is kept with the run.
 * @returns writes the run
 * @throws {Problem} as `startRun`, and UNPLACEABLE unless it was said that the rest is to run all the same */
export async function prepareRun(
  ctx: Context,
  request: StartRequest,
  who: string,
): Promise<(tx: Tx) => Promise<number>> {
  const {
    title: given,
    build,
    stage,
    retries,
    rehearsal = false,
    before = [],
    after = [],
    where = plainWhere(request.environments),
    despite = false,
  } = request
  const library = await libraryFor(ctx, request)
  const suite = chosenSuite(request, library)
  const environments = await environmentsOf(ctx, request.environments)
  if (!request.where && !request.guided) await requireServed(ctx, environments)
  const { items, leftOut } = chosenItems(request, suite, library)
  if (!despite && !request.guided) requireSetUp(await lackingOf(ctx, items, library), items)
  const livePool = request.live ? await requireLive(ctx, request, items, library) : undefined
  const once = [
    ...(before.length > 0 ? [phaseCase('before', before)] : []),
    ...(after.length > 0 ? [phaseCase('after', after)] : []),
  ]
  const [workspace, quarantined] = await Promise.all([workspacePolicy(ctx), quarantinedNow(ctx.db, ctx.now)])
  const outer = [
    ...(request.policy ? [request.policy] : []),
    ...(workspace === undefined ? [] : [{ policy: workspace, from: 'the workspace' }]),
  ]
  const [applications, repositories, machines] = await Promise.all([
    listApplications(ctx.db),
    listRepositories(ctx.db),
    basisOf(ctx, items, library, environments, { before, after }),
  ])
  if (stage !== undefined && !applications.some(({ stages }) => Object.hasOwn(stages, stage)))
    throw new Problem('NOT_FOUND', `No application has a stage “${stage}”.`)
  const basis = request.guided ? await basisOfPeople(ctx, request.guided, machines, items, library) : machines
  const found = await planned(
    ctx,
    {
      where: { ...where, environments: request.environments },
      retries,
      ...(request.how && { how: request.how }),
    },
    basis,
  )
  if (request.where && (!despite || isHopeless(found, before.length > 0))) requirePlaced(found, environments)
  if (request.guided) requirePlaced(found, environments)
  const snapshot: RunSnapshot = {
    suite: { key: suite.key, title: suite.title },
    ...freeze(items, once, library, outer),
    ...(request.live && { routines: Object.fromEntries(library.routines) }),
    environments,
    ...(await roleEnvironmentsOf(ctx, basis)),
    applications: Object.fromEntries(
      applications.map((application) => [application.key, addressAt(application, { stage, build })]),
    ),
    commit: repositories[0]?.commit ?? null,
    leftOut,
  }
  const laid = layOut(items, snapshot, request, basis, found, { outer, quarantined })
  const caseRuns = request.guided ? forPeople(laid) : laid
  const title = given ?? suite.title
  return async (tx) => {
    const run: NewRun = {
      ...settingsOf(request, livePool ?? where.pool),
      title,
      suiteKey: suite.key,
      ordered: caseRuns.some(({ ready }) => ready === false),
      startedBy: who,
      snapshot,
      phase: before.length > 0 ? -1 : 0,
      forecast: runForecast(found, (place) => place),
      ...(request.live && { live: true, how: { ...USUAL_HOW, video: 'never' as const } }),
      ...(request.guided && { kind: 'guided' as const, retries: 0 }),
      ...(rehearsal && { kind: 'rehearsal' as const, goneAt: later(ctx.now, REHEARSAL_KEPT_MS) }),
    }
    if (request.live) await holdLivePlace(tx, livePool)
    if (await addBuild(tx, build)) await notify(tx, 'settings')
    const id = await addRun(tx, run, caseRuns, ctx.now)
    // what was placed nowhere holds nobody up
    if (run.ordered && caseRuns.some(({ state }) => state === 'ended')) await letBeginAll(tx, id)
    await note(tx, who, startedAs(request), String(id), {
      suite: suite.key,
      build,
      environments: request.environments,
      caseRuns: caseRuns.length,
    })
    await notify(tx, 'work')
    await notify(tx, 'run', id)
    return id
  }
}

/** What a start chooses from: what is kept, and for a rehearsal unsaved texts over it.
 * @throws {Problem} BODY_INVALID for a run that counts, DEFINITION_BROKEN for a text that is not sound */
async function libraryFor(ctx: Context, { drafts = [], rehearsal }: StartRequest): Promise<Loaded> {
  const library = await loadLibrary(ctx)
  if (drafts.length === 0) return library
  if (!rehearsal) throw new Problem('BODY_INVALID', 'Only a rehearsal takes texts that are not saved.')
  const definitions: Definition[] = []
  for (const { kind, key, source } of drafts) {
    const { definition, problems } = await parseBeside(ctx, fileNameOf(kind, key), source)
    if (!definition)
      throw new Problem('DEFINITION_BROKEN', `Line ${problems[0]!.line}: ${problems[0]!.message}.`, problems)
    definitions.push(definition)
  }
  return withDefinitions(library, definitions)
}

const settingsOf = (request: StartRequest, pool: string | undefined): RunSettings => ({
  build: request.build,
  stage: request.stage ?? null,
  retries: request.retries,
  retryOn: request.retryOn ?? [],
  retryAgent: request.retryAgent ?? 'any',
  limitMs: request.limitMs,
  runLimitMs: request.runLimitMs ?? null,
  stopAfter: request.stopAfter ?? null,
  priority: request.priority ?? 0,
  pool: pool ?? null,
  how: request.how ?? null,
  rotationKey: request.rotationKey ?? null,
})

/** Environments that roles of joint cases run on, and nothing else of the run. */
async function roleEnvironmentsOf(
  ctx: Context,
  { items, environments }: OutlookBasis,
): Promise<Pick<RunSnapshot, 'roleEnvironments'>> {
  const more = [
    ...new Set(items.flatMap(({ roles = [] }) => roles.flatMap(({ on }) => Object.values(on)))),
  ].filter((key) => !environments.some((one) => one.key === key))
  if (more.length === 0) return {}
  return {
    roleEnvironments: (await listEnvironments(ctx.db)).flatMap(({ key, facts }) =>
      more.includes(key) ? [facts] : [],
    ),
  }
}

/** Nothing has a place, or what everything waits for has none: then leaving that out would leave a run that
 * never ends. */
const isHopeless = ({ lanes, unplaceable }: Outlook, hasBefore: boolean): boolean =>
  lanes.length === 0 || (hasBefore && unplaceable.some(({ work }) => work.some((id) => id.startsWith('0 '))))

function requirePlaced({ unplaceable, caseRuns }: Outlook, environments: readonly Environment[]): void {
  const count = unplaceable.reduce((sum, one) => sum + one.count, 0)
  if (count === 0) return
  const named = unplaceable
    .slice(0, 3)
    .map(
      ({ titles, count: n, environment, reason }) =>
        `${titles[0]}${n > 1 ? ` and ${n - 1} more` : ''} on ` +
        `${environments.find(({ key }) => key === environment)?.title ?? environment}: ${reason}`,
    )
  throw new Problem(
    'UNPLACEABLE',
    `${count} of ${caseRuns} case runs can be placed nowhere. ${named.join('; ')}. Say that the rest ` +
      'is to run all the same, or change where it runs.',
    { count, of: caseRuns, unplaceable },
  )
}

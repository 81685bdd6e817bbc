/** A rotation, from the form its file has and back. */
import { durationText, parseDurationMs } from './durations'
import { normaliseSteps } from './normalise'
import type { Capture, EvidenceKind, FailureKind, Priority } from './types'
import type {
  Cover,
  EnvironmentRule,
  RetryAgent,
  Rotation,
  RotationHow,
  RotationPart,
  RotationTimes,
  RotationWhere,
  Spread,
} from './rotation-types'
import { USUAL_RETRIES } from './rotation-schema'

export const NEWEST_BUILD = 'newest'
const LIMIT_MS = 120_000
export const USUAL_HOW: RotationHow = {
  settleMs: 0,
  betweenMs: 0,
  screens: 'always',
  video: 'always',
  console: 'always',
  network: 'always',
  keep: {},
}

type Scalars = Record<string, string | number | boolean>
type RawRule = Partial<Record<keyof EnvironmentRule, string | string[]>>
type File = {
  rotation: string
  title: string
  what: RotationPart[]
  with?: Scalars
  before?: never[]
  after?: never[]
  build?: string
  stage?: string
  where: {
    environments?: string[]
    axes?: EnvironmentRule
    cover?: Cover
    never?: RawRule[]
    always?: RawRule[]
    pool?: string
    spread?: Spread
    leaveOut?: boolean
    lanes?: Record<string, string>
  }
  how?: { settle?: string | number; between?: string | number } & Partial<
    Record<EvidenceKind, Capture> & Pick<RotationHow, 'keep'>
  >
  retries?: number
  retryOn?: FailureKind[]
  retryAgent?: RetryAgent
  policy?: string
  limit?: string | number
  runLimit?: string | number
  stopAfter?: number
  priority?: Priority
  when?: Partial<RotationTimes> & Pick<RotationTimes, 'timezone' | 'start'>
  follows?: { rotation: string; on?: 'ended' | 'passed' }
  paused?: boolean
}

export function normaliseRotation(raw: unknown, lineOf: (path: (string | number)[]) => number): Rotation {
  const file = raw as File
  const {
    rotation: key,
    title,
    what,
    build = NEWEST_BUILD,
    stage,
    retries = USUAL_RETRIES,
    retryOn,
    retryAgent = 'any',
    policy,
    limit,
    runLimit,
    stopAfter,
    priority = 'normal',
    when,
    follows,
    paused = false,
  } = file
  return {
    kind: 'rotation',
    key,
    title,
    what,
    with: Object.fromEntries(Object.entries(file.with ?? {}).map(([name, value]) => [name, String(value)])),
    before: normaliseSteps(file.before ?? [], ['before'], lineOf),
    after: normaliseSteps(file.after ?? [], ['after'], lineOf),
    build,
    ...(stage !== undefined && { stage }),
    where: whereOf(file.where),
    how: howOf(file.how),
    retries,
    retryAgent,
    ...(retryOn && { retryOn }),
    ...(policy !== undefined && { policy }),
    limitMs: limit === undefined ? LIMIT_MS : parseDurationMs(limit)!,
    ...(runLimit !== undefined && { runLimitMs: parseDurationMs(runLimit)! }),
    ...(stopAfter !== undefined && { stopAfter }),
    priority,
    ...(when && {
      when: {
        ...when,
        rule: when.rule ?? null,
        except: when.except ?? [],
        blackout: when.blackout ?? [],
        calendars: when.calendars ?? [],
        onBlackout: when.onBlackout ?? 'skip',
        moves: when.moves ?? [],
        missed: when.missed ?? 'skip',
        whileRunning: when.whileRunning ?? 'start',
        notWith: when.notWith ?? [],
      },
    }),
    ...(follows && { follows: { rotation: follows.rotation, on: follows.on ?? 'ended' } }),
    paused,
  }
}

const ruleOf = (raw: RawRule): EnvironmentRule =>
  Object.fromEntries(Object.entries(raw).map(([axis, values]) => [axis, [values].flat()]))
const whereOf = ({
  environments,
  axes: given,
  cover = 'all',
  never = [],
  always = [],
  pool,
  spread = 'split',
  leaveOut = false,
  lanes = {},
}: File['where']): RotationWhere => ({
  ...(environments && { environments }),
  ...(given && { axes: given }),
  cover,
  never: never.map(ruleOf),
  always: always.map(ruleOf),
  ...(pool !== undefined && { pool }),
  spread,
  leaveOut,
  lanes,
})
const howOf = ({ settle, between, ...kept }: NonNullable<File['how']> = {}): RotationHow => ({
  ...USUAL_HOW,
  ...kept,
  ...(settle !== undefined && { settleMs: parseDurationMs(settle)! }),
  ...(between !== undefined && { betweenMs: parseDurationMs(between)! }),
})

type Raw = Record<string, unknown>
const given = (fields: Raw): Raw =>
  Object.fromEntries(
    Object.entries(fields).filter(
      ([, value]) =>
        value !== undefined &&
        !(typeof value === 'object' && value !== null && Object.keys(value).length === 0),
    ),
  )
const unless = <T>(value: T, usual: T): T | undefined => (value === usual ? undefined : value)
/** In the form its file has; what is as usual is left out. */
export function rotationForm(rotation: Rotation, stepForm: (step: Rotation['before'][number]) => Raw): Raw {
  const {
    key,
    title,
    what,
    before,
    after,
    build,
    stage,
    where,
    how,
    retries,
    retryOn,
    retryAgent,
    policy,
    limitMs,
    runLimitMs,
    stopAfter,
    priority,
    when,
    follows,
    paused,
  } = rotation
  return {
    rotation: key,
    title,
    what,
    ...given({
      with: rotation.with,
      before: before.map(stepForm),
      after: after.map(stepForm),
      build: unless(build, NEWEST_BUILD),
      stage,
      where: whereForm(where),
    }),
    ...(Object.keys(whereForm(where)).length === 0 && { where: {} }),
    ...given({
      how: howForm(how),
      retries: unless(retries, USUAL_RETRIES),
      retryOn,
      retryAgent: unless(retryAgent, 'any'),
      policy,
      limit: limitMs === LIMIT_MS ? undefined : durationText(limitMs),
      runLimit: runLimitMs === undefined ? undefined : durationText(runLimitMs),
      stopAfter,
      priority: unless(priority, 'normal'),
      when: when && whenForm(when),
      follows: follows && given({ ...follows, on: unless(follows.on, 'ended') }),
      paused: unless(paused, false),
    }),
  }
}

const ruleForm = (one: EnvironmentRule): Raw =>
  Object.fromEntries(
    Object.entries(one).map(([axis, values]) => [axis, values.length === 1 ? values[0] : values]),
  )
const whereForm = ({ cover, spread, leaveOut, never, always, ...rest }: RotationWhere): Raw =>
  given({
    ...rest,
    cover: unless(cover, 'all'),
    never: never.map(ruleForm),
    always: always.map(ruleForm),
    spread: unless(spread, 'split'),
    leaveOut: unless(leaveOut, false),
  })
const howForm = ({ settleMs, betweenMs, keep, ...kept }: RotationHow): Raw =>
  given({
    settle: settleMs === 0 ? undefined : durationText(settleMs),
    between: betweenMs === 0 ? undefined : durationText(betweenMs),
    ...Object.fromEntries(Object.entries(kept).map(([name, value]) => [name, unless(value, 'always')])),
    keep,
  })
function whenForm({
  rule: recurrence,
  timezone,
  start,
  onBlackout,
  missed,
  whileRunning,
  ...rest
}: RotationTimes): Raw {
  return given({
    rule: recurrence ?? undefined,
    timezone,
    start,
    ...rest,
    onBlackout: unless(onBlackout, 'skip'),
    missed: unless(missed, 'skip'),
    whileRunning: unless(whileRunning, 'start'),
  })
}

/** Which environments a rotation runs on: named ones, or those its axes and rules pick, all of them or few
 * that cover every pair. */
import type { Fault } from '../compute/fault'
import { AXES, type Axis, type Environment, type EnvironmentRule, type RotationWhere } from '../model'
import { matrix, type MatrixRow } from '../planning'

/** `keys` in the order of the environments; `possible`: how many there would be with all of them. Faults
 * stand at fields of the rotation's `where`. */
export type Picked = {
  keys: string[]
  possible: number
  pairs?: { total: number; covered: number; impossible: number }
  uncovered: MatrixRow[]
  faults: Fault[]
}

/** Somebody waits for it while choosing. The axes of real fleets are short: this is plenty. */
const BUDGET_MS = 60
/** Beyond so many combinations of values, all environments are taken: listing what is not there would be
 * longer than the list of what is. */
const COMBINATIONS_MOST = 5000

/** What an environment has on an axis. */
export const levelOf = (environment: Environment, axis: Axis): string =>
  axis === 'screen' ? `${environment.width}x${environment.height}` : environment[axis]

/** Whether an environment is what a rule says. */
export const fits = (environment: Environment, rule: EnvironmentRule): boolean =>
  AXES.every((axis) => rule[axis] === undefined || rule[axis].includes(levelOf(environment, axis)))

/** Never throws: what is wrong is among the faults, and then nothing is picked. */
export function pickEnvironments(where: RotationWhere, all: readonly Environment[]): Picked {
  if (where.environments) return named(where.environments, all)
  const faults: Fault[] = []
  for (const axis of AXES)
    for (const value of where.axes?.[axis] ?? [])
      if (!all.some((one) => levelOf(one, axis) === value))
        faults.push({ path: `where/axes/${axis}`, message: `no environment has the ${axis} “${value}”` })
  const onAxes = all.filter((one) => fits(one, where.axes ?? {}))
  const isNever = (one: Environment) => where.never.some((rule) => fits(one, rule))
  const required = where.always.map((rule) => all.filter((one) => fits(one, rule)))
  required.forEach((ones, i) => {
    if (ones.length === 0)
      faults.push({ path: `where/always/${i}`, message: `no environment is ${ruleWords(where.always[i]!)}` })
    else if (ones.every(isNever))
      faults.push({
        path: `where/always/${i}`,
        message: `always ${ruleWords(where.always[i]!)} and never that: one of the two has to go`,
      })
  })
  const candidates = all.filter(
    (one) => (onAxes.includes(one) || required.some((ones) => ones.includes(one))) && !isNever(one),
  )
  if (candidates.length === 0 && faults.length === 0)
    faults.push(
      onAxes.length === 0
        ? { path: 'where/axes', message: 'no environment has these values together' }
        : { path: 'where/never', message: 'these rules leave no environment' },
    )
  if (faults.length > 0) return { keys: [], possible: candidates.length, uncovered: [], faults }
  return where.cover === 'all'
    ? { keys: candidates.map(({ key }) => key), possible: candidates.length, uncovered: [], faults }
    : covering(where, candidates)
}

function named(keys: readonly string[], all: readonly Environment[]): Picked {
  const found = keys.map((key) => all.find((one) => one.key === key || one.aliases?.includes(key)))
  const faults = found.flatMap((one, i): Fault[] =>
    one ? [] : [{ path: `where/environments/${i}`, message: `there is no environment “${keys[i]}”` }],
  )
  return {
    keys: faults.length > 0 ? [] : [...new Set(found.map((one) => one!.key))],
    possible: keys.length,
    uncovered: [],
    faults,
  }
}

/** Few environments in which every pair (or triple) of values meets that meets in any of them. */
function covering({ cover, always }: RotationWhere, candidates: readonly Environment[]): Picked {
  const all = {
    keys: candidates.map(({ key }) => key),
    possible: candidates.length,
    uncovered: [],
    faults: [],
  }
  const strength = cover === 'pairs' ? 2 : 3
  const axes = AXES.map(
    (axis) => [axis, [...new Set(candidates.map((one) => levelOf(one, axis)))]] as const,
  ).filter(([, levels]) => levels.length > 1)
  const combinations = axes.reduce((product, [, levels]) => product * levels.length, 1)
  if (axes.length < strength || combinations > COMBINATIONS_MOST) return all
  const there = new Map(
    candidates.toReversed().map((one) => [axes.map(([axis]) => levelOf(one, axis)).join('\n'), one]),
  )
  const forbid = product(axes.map(([axis, levels]) => levels.map((level) => [axis, level] as const)))
    .filter((row) => !there.has(row.map(([, level]) => level).join('\n')))
    .map((row) => Object.fromEntries(row))
  const require = always
    .map((rule) =>
      Object.fromEntries(
        axes.flatMap(([axis, levels]) =>
          rule[axis] ? [[axis, rule[axis].filter((level) => levels.includes(level))]] : [],
        ),
      ),
    )
    .filter((rule) => Object.keys(rule).length > 0)
  const { rows, uncovered, pairs } = matrix({
    axes: Object.fromEntries(axes.map(([axis, levels]) => [axis, [...levels]])),
    strength,
    forbid,
    require,
    budgetMs: BUDGET_MS,
  })
  const chosen = new Set(rows.map((row) => there.get(axes.map(([axis]) => row[axis]).join('\n'))!.key))
  return {
    keys: all.keys.filter((key) => chosen.has(key)),
    possible: candidates.length,
    pairs,
    uncovered,
    faults: [],
  }
}

function product<T>(lists: readonly (readonly T[])[]): T[][] {
  return lists.reduce<T[][]>((rows, list) => rows.flatMap((row) => list.map((one) => [...row, one])), [[]])
}

/** Where a role of a joint case runs: on the environment of the case run where that is as the role wants it,
 * else on the first one that is, those with seats before others.
 * @param wanted facts of the environment, by their names: `browser`, `os`, `kind`, `screen`, …
 * @returns `undefined` when no environment is like that */
export function roleEnvironment(
  wanted: Readonly<Record<string, string>>,
  own: Environment,
  all: readonly Environment[],
  served: ReadonlySet<string>,
): string | undefined {
  const like = [own, ...all].filter((one) =>
    Object.entries(wanted).every(
      ([name, value]) =>
        (name === 'screen' ? levelOf(one, 'screen') : (one as Record<string, unknown>)[name]) === value,
    ),
  )
  return (like.find(({ key }) => key === own.key) ?? like.find(({ key }) => served.has(key)) ?? like[0])?.key
}

/** "Firefox or WebKit, on Windows 11". */
export const ruleWords = (rule: EnvironmentRule): string =>
  AXES.flatMap((axis) => (rule[axis] ? [rule[axis].join(' or ')] : [])).join(', ')

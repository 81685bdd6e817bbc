/** Which values of an axis are wanted. None named: any is. */
import { AXES, type Axis, type Environment, type EnvironmentRule, type RotationWhere } from '@/core/model'
import { levelOf } from '@/core/rota'

/** The values with one of them taken in or out; `undefined` when that is all of them. The last one stays. */
export function toggled(
  environments: readonly Environment[],
  where: RotationWhere,
  axis: Axis,
  level: string,
): string[] | undefined {
  const all = [...new Set(environments.map((one) => levelOf(one, axis)))]
  const now = where.axes?.[axis] ?? all
  const next = now.includes(level)
    ? now.filter((one) => one !== level)
    : all.filter((one) => now.includes(one) || one === level)
  if (next.length === 0) return now
  return next.length === all.length ? undefined : next
}

export function without(axes: EnvironmentRule, axis: Axis): EnvironmentRule {
  return Object.fromEntries(Object.entries(axes).filter(([name]) => name !== axis))
}

/** The values these environments have, by axis. */
export function axesOf(chosen: readonly Environment[]): EnvironmentRule {
  return Object.fromEntries(
    AXES.map((axis) => [axis, [...new Set(chosen.map((one) => levelOf(one, axis)))]]).filter(
      ([, levels]) => levels!.length > 0,
    ),
  )
}

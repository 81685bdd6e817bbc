/** Which values of an axis are wanted. None named: any is. */
import { AXES, type Axis, type Environment, type EnvironmentRule, type RotationWhere } from '@/core/model'
import { fits, levelOf } from '@/core/rota'

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

/** Axes and exceptions that pick these environments and no others. Where two have the same on every axis,
 * nothing tells them apart: then both are picked. */
export function pickingOf(
  chosen: readonly Environment[],
  all: readonly Environment[],
): Pick<RotationWhere, 'never'> & { axes: EnvironmentRule } {
  const axes = axesOf(chosen)
  const telling = AXES.filter((axis) => (axes[axis]?.length ?? 0) > 1)
  const factsOf = (one: Environment) => telling.map((axis) => levelOf(one, axis)).join('\n')
  const wanted = new Set(chosen.map(factsOf))
  const others = all.filter((one) => fits(one, axes) && !wanted.has(factsOf(one)))
  const rules = [...new Map(others.map((one) => [factsOf(one), one])).values()].map((one): EnvironmentRule =>
    Object.fromEntries(telling.map((axis) => [axis, [levelOf(one, axis)]])),
  )
  return { axes, never: merged(rules, telling) }
}

/** Rules that differ on one axis alone, as one rule with the values of both. */
function merged(rules: readonly EnvironmentRule[], axes: readonly Axis[]): EnvironmentRule[] {
  const left = [...rules]
  for (const axis of axes)
    for (let i = 0; i < left.length; i++)
      for (let j = left.length - 1; j > i; j--) {
        const [one, other] = [left[i]!, left[j]!]
        if (axes.some((a) => a !== axis && String(one[a]) !== String(other[a]))) continue
        left[i] = { ...one, [axis]: [...one[axis]!, ...other[axis]!] }
        left.splice(j, 1)
      }
  return left
}

/** The values these environments have, by axis. */
function axesOf(chosen: readonly Environment[]): EnvironmentRule {
  return Object.fromEntries(
    AXES.map((axis) => [axis, [...new Set(chosen.map((one) => levelOf(one, axis)))]]).filter(
      ([, levels]) => levels!.length > 0,
    ),
  )
}

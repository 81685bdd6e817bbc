/** What every plan has to keep, and the best there is where so few things are planned that all orders can be
 * tried. */
import type { PlanInput, PlanOutput, PlanWork } from '..'

export const agent = (id: string, seats: number, environments: string[], more: object = {}) => ({
  id,
  seats,
  environments,
  ...more,
})

export const work = (id: string, ms: number, more: Partial<PlanWork> = {}): PlanWork => ({
  id,
  environment: 'a',
  ms,
  ...more,
})

export const made = (output: PlanOutput) =>
  new Map(
    output.lanes.flatMap(({ agent: name, seat, items }) =>
      items.map((item) => [item.work, { ...item, agent: name, seat }] as const),
    ),
  )

/** What a seat needs between two environments. */
const switching =
  ({ same = 0, other = 4000 }: NonNullable<PlanInput['switchMs']>) =>
  (from: string | undefined, to: string): number => {
    if (from === undefined) return 0
    return from === to ? same : other
  }

/** Everything a plan promises, looked at from outside. */
export function faultsOf(input: PlanInput, output: PlanOutput): string[] {
  const { agents, now = 0 } = input
  const switchMs = switching(input.switchMs ?? {})
  const faults: string[] = []
  const given = new Map(input.work.map((one) => [one.id, one]))
  const placed = made(output)
  const say = (holds: boolean, what: string) => !holds && faults.push(what)
  for (const lane of output.lanes) {
    const { speed = 1, from = now, until, environments } = agents.find(({ id }) => id === lane.agent)!
    lane.items.forEach((item, i) => {
      const one = given.get(item.work)!
      const before = lane.items[i - 1]
      say(environments.includes(one.environment), `${item.work} on a seat that does not serve it`)
      say(
        item.endMs - item.startMs === Math.ceil(one.ms / speed),
        `${item.work} takes ${item.endMs - item.startMs}`,
      )
      const change = switchMs(before && given.get(before.work)!.environment, one.environment)
      say(item.switchMs === change, `${item.work} switches for ${item.switchMs}`)
      say(
        item.startMs - item.switchMs >= (before?.endMs ?? Math.max(from, now)),
        `${item.work} begins before its seat is free`,
      )
      say(
        until === undefined || until === null || item.endMs <= until,
        `${item.work} ends after its seat closed`,
      )
    })
  }
  for (const one of input.work) {
    const own = placed.get(one.id)
    if (!own) continue
    for (const id of one.after ?? [])
      say(placed.has(id) && placed.get(id)!.endMs <= own.startMs, `${one.id} starts before ${id} ends`)
    for (const two of input.work) {
      const its = placed.get(two.id)
      if (two.id === one.id) continue
      if (one.together !== undefined && one.together === two.together)
        say(
          its?.startMs === own.startMs && (its.agent !== own.agent || its.seat !== own.seat),
          `${one.id} and ${two.id} do not start together`,
        )
      if (
        its &&
        one.exclusive?.some((name) => two.exclusive?.includes(name)) &&
        own.startMs < its.endMs &&
        its.startMs < own.endMs &&
        one.ms > 0 &&
        two.ms > 0
      )
        faults.push(`${one.id} and ${two.id} overlap`)
    }
    if (one.agent !== undefined) say(own.agent === one.agent, `${one.id} is not with its agent`)
  }
  say(placed.size + output.unplaceable.length === input.work.length, 'something is neither placed nor named')
  say(
    output.makespanMs === Math.max(0, ...[...placed.values()].map(({ endMs }) => endMs - now)),
    'the makespan is another',
  )
  say(
    output.boundMs <= output.makespanMs,
    `the bound ${output.boundMs} is above the makespan ${output.makespanMs}`,
  )
  return faults
}

/** Exhaustive search: every order of the items and every seat for each, each item as early as possible. */
export function bestMakespan({ agents, work: list, switchMs: given = {} }: PlanInput): number {
  const switchMs = switching(given)
  const seats = agents.flatMap((one) => Array.from({ length: one.seats }, () => one))
  let best = Infinity
  const visit = (
    done: Map<string, number>,
    free: number[],
    environment: (string | undefined)[],
    held: Map<string, number>,
    end: number,
  ): void => {
    if (end >= best) return
    if (done.size === list.length) return void (best = end)
    for (const one of list) {
      if (done.has(one.id) || (one.after ?? []).some((id) => !done.has(id))) continue
      seats.forEach((seat, s) => {
        if (!seat.environments.includes(one.environment)) return
        const change = switchMs(environment[s], one.environment)
        const start = Math.max(
          free[s]! + change,
          ...(one.after ?? []).map((id) => done.get(id)!),
          ...(one.exclusive ?? []).map((name) => held.get(name) ?? 0),
        )
        const ends = start + Math.ceil(one.ms / (seat.speed ?? 1))
        visit(
          new Map(done).set(one.id, ends),
          free.with(s, ends),
          environment.with(s, one.environment),
          (one.exclusive ?? []).reduce((map, name) => map.set(name, ends), new Map(held)),
          Math.max(end, ends),
        )
      })
    }
  }
  visit(
    new Map(),
    seats.map(() => 0),
    seats.map(() => undefined),
    new Map(),
    0,
  )
  return best
}

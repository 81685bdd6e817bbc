import fc from 'fast-check'
import { isNeeded, seatRoles, type FreeSeats, type RoleWanted } from '.'

const roles = (...environments: string[]): RoleWanted[] =>
  environments.map((environment, i) => ({ role: `r${i}`, environment }))
const agent = (name: string, free: number, ...environments: string[]): FreeSeats => ({
  agent: name,
  free,
  environments,
})

test.each([
  {
    why: 'each on an agent of its own',
    roles: roles('a', 'a'),
    agents: [agent('x', 2, 'a'), agent('y', 1, 'a')],
    seated: ['y', 'x'],
  },
  {
    why: 'the only one that can do the second is kept for it',
    roles: roles('a', 'b'),
    agents: [agent('x', 1, 'a', 'b'), agent('y', 1, 'a')],
    seated: ['y', 'x'],
  },
  {
    why: 'two seats of one agent when there is no other',
    roles: roles('a', 'a'),
    agents: [agent('x', 2, 'a')],
    seated: ['x', 'x'],
  },
  {
    why: 'not all: the rest has none',
    roles: roles('a', 'b'),
    agents: [agent('x', 1, 'a', 'b')],
    seated: ['x'],
  },
  { why: 'no free seat', roles: roles('a'), agents: [agent('x', 0, 'a')], seated: [] },
  {
    why: 'a second seat frees another agent for the role that needs it',
    roles: roles('a', 'a', 'b'),
    agents: [agent('x', 2, 'a'), agent('y', 1, 'a', 'b')],
    seated: ['x', 'x', 'y'],
  },
])('$why', ({ roles: wanted, agents, seated }) =>
  expect(seatRoles(wanted, agents).map((one) => one.agent)).toEqual(seated),
)

test('a seat is needed when fewer roles would be seated without it', () => {
  const wanted = roles('a', 'b')
  expect(isNeeded('y', wanted, [agent('x', 1, 'a'), agent('y', 1, 'b')])).toBe(true)
  expect(isNeeded('z', wanted, [agent('x', 1, 'a'), agent('y', 1, 'b'), agent('z', 1, 'a')])).toBe(false)
  expect(isNeeded('x', wanted, [agent('x', 1, 'a')])).toBe(true)
})

test('property: as many as trying everything seats, never twice the same seat, never where it cannot run', () => {
  const one = fc.record({ free: fc.nat(2), environments: fc.subarray(['a', 'b', 'c']) })
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 4 }),
      fc.array(one, { maxLength: 4 }),
      (environments, made) => {
        const wanted = roles(...environments)
        const agents = made.map((given, i) => agent(`x${i}`, given.free, ...given.environments))
        const found = seatRoles(wanted, agents)
        expect(found.length).toBe(mostSeated(wanted, agents))
        expect(new Set(found.map(({ role }) => role)).size).toBe(found.length)
        for (const { agent: name, free, environments: served } of agents) {
          const here = found.filter((seated) => seated.agent === name)
          expect(here.length).toBeLessThanOrEqual(free)
          for (const { environment } of here) expect(served).toContain(environment)
        }
      },
    ),
  )
})

/** Exhaustive search. */
function mostSeated([first, ...rest]: readonly RoleWanted[], agents: readonly FreeSeats[]): number {
  if (!first) return 0
  const withIt = agents.flatMap((one, i) =>
    one.free > 0 && one.environments.includes(first.environment)
      ? [1 + mostSeated(rest, agents.with(i, { ...one, free: one.free - 1 }))]
      : [],
  )
  return Math.max(mostSeated(rest, agents), ...withIt)
}

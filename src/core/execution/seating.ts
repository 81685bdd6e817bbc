/** Seats for the roles of a joint case: all at once, or none. */

export type RoleWanted = { role: string; environment: string }
/** An agent with as many free seats. */
export type FreeSeats = { agent: string; environments: readonly string[]; free: number }
export type Seated = { role: string; environment: string; agent: string }

/** Gives every role a seat of its own, on as many different agents as possible.
 * Maximum matching by augmenting paths (Kuhn 1955): first with one seat an agent; what is left over gets
 * second seats.
 * @returns one entry for each role that has a seat: fewer than `roles` when not all can be seated at once */
export function seatRoles(roles: readonly RoleWanted[], agents: readonly FreeSeats[]): Seated[] {
  const seats = agents.flatMap((one) =>
    Array.from({ length: Math.min(one.free, roles.length) }, (_, i) => ({ ...one, spare: i > 0 })),
  )
  const taken = new Map<number, number>() // seat to role
  const give = (role: number, usable: (seat: number) => boolean, seen: Set<number>): boolean => {
    for (let seat = 0; seat < seats.length; seat++) {
      if (seen.has(seat) || !usable(seat) || !seats[seat]!.environments.includes(roles[role]!.environment))
        continue
      seen.add(seat)
      const holder = taken.get(seat)
      if (holder === undefined || give(holder, usable, seen)) {
        taken.set(seat, role)
        return true
      }
    }
    return false
  }
  const waiting = roles.flatMap((_, role) =>
    give(role, (seat) => !seats[seat]!.spare, new Set()) ? [] : [role],
  )
  for (const role of waiting) give(role, () => true, new Set())
  return [...taken]
    .map(([seat, role]) => ({ ...roles[role]!, agent: seats[seat]!.agent }))
    .sort(
      (a, b) =>
        roles.findIndex(({ role }) => role === a.role) - roles.findIndex(({ role }) => role === b.role),
    )
}

/** Is a seat of this agent one that the roles wait for: would they be fewer without it? */
export const isNeeded = (
  agent: string,
  roles: readonly RoleWanted[],
  agents: readonly FreeSeats[],
): boolean =>
  seatRoles(roles, agents).length >
  seatRoles(
    roles,
    agents.map((one) => (one.agent === agent ? { ...one, free: one.free - 1 } : one)),
  ).length

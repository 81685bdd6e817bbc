/** Seats for the roles of a joint case: all at once, or none. */
import { findPlace } from './matching'

export type RoleWanted = { role: string; environment: string }
/** An agent with as many free seats. */
export type FreeSeats = { agent: string; environments: readonly string[]; free: number }
export type Seated = { role: string; environment: string; agent: string }

/** Gives every role a seat of its own, on as many different agents as possible.
 * First with one seat an agent; what is left over gets second seats.
 * @returns one entry for each role that has a seat: fewer than `roles` when not all can be seated at once */
export function seatRoles(roles: readonly RoleWanted[], agents: readonly FreeSeats[]): Seated[] {
  const seats = agents.flatMap((one) =>
    Array.from({ length: Math.min(one.free, roles.length) }, (_, i) => ({ ...one, spare: i > 0 })),
  )
  const taken = new Map<number, number>() // seat to role
  const seatsOf = (role: number, usable: (seat: (typeof seats)[number]) => boolean): number[] =>
    seats.flatMap((seat, i) =>
      usable(seat) && seat.environments.includes(roles[role]!.environment) ? [i] : [],
    )
  const give = (role: number, usable: (seat: (typeof seats)[number]) => boolean): boolean =>
    findPlace(taken, role, (one) => seatsOf(one, usable))
  const waiting = roles.flatMap((_, role) => (give(role, ({ spare }) => !spare) ? [] : [role]))
  for (const role of waiting) give(role, () => true)
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

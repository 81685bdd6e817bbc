import { sql } from 'drizzle-orm'

/** Where attempt `t` of case run `c` plays: of a joint case, the environment of its role. */
export const environmentOfAttempt = sql`coalesce(c.role_environments[array_position(c.roles, t.role)],
  c.environment)`

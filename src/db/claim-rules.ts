/** The rules of a claim, as SQL: what an agent may take, and what goes first. They stand here once; the
 * statements of claim.ts and the database's own function (claim-function.ts) are both made of them.
 * Names in the text: `me` is the agent (name, pool, environments), `o` a run, `c` a case run, and `moment`
 * the time it is. */
import { statesBefore } from '@/core/execution'

/** Seats are kept free for a joint case for so long; then others go first for as long again. */
export const GATHERING = "interval '60 s'"
/** An agent without a sign of life for so long is not waited for. */
const AWAY = "interval '1 minute'"

const oneOf = (texts: readonly string[]) => texts.map((text) => `'${text}'`).join(', ')
/** Of a run: something of it may be begun by an agent. */
export const RUN_IS_OPEN = `state in (${oneOf(statesBefore('run', 'pause'))}) and kind <> 'guided'`
const WAITS = `c.state in (${oneOf(statesBefore('caseRun', 'claim'))})`

/** Case runs of the run's phase that an agent may take now, those of joint cases left out. */
export const WAITS_FOR_ONE = `c.run_id = o.id and c.phase = o.phase and ${WAITS} and c.ready and c.roles = '{}'`
export const WAITS_FOR_ROLES = `c.run_id = o.id and c.phase = o.phase and ${WAITS} and c.ready and c.roles <> '{}'`

/** The agent is the one it is meant for, or any is.
 * @param held names that are held alone now, as an array */
export const mayTake = (held: string): string => `${isForAgent}
  and (c.wish_agent = '' and c.avoid_agent = '' or is_wished(me.name, c.environment, c.wish_agent, c.avoid_agent, o.pool, moment))
  and ${isFree(held)}`
export const isForAgent = "c.agent in ('', me.name)"
export const isFree = (held: string): string => `(c.exclusive = '{}' or not c.exclusive && ${held})`
export const HELD_NAMES = 'array(select name from exclusive_holds)'

/** Among the case runs of one run: the time the plan has it for, then what is urgent, then the order of the
 * suite. */
export const ORDER_IN_RUN = 'c.lane_ms, c.priority desc nulls last, c.position'

/** How many seats the rotation of a run has now: the one that has fewest goes first. */
export const seatsOfRotation = (
  run: string,
): string => `(select count(*) from attempts t join runs s on s.id = t.run_id
  where t.state <> 'ended' and coalesce(s.rotation_key, s.id::text) = coalesce(${run}.rotation_key, ${run}.id::text))`

/** A second try that wants the same agent, or any but that one, gets it as long as there is one that is
 * here. */
const HERE = `not w.draining and not w.paused and w.removed_at is null and w.heartbeat_at > moment - ${AWAY}`
export const IS_WISHED_FUNCTION = `
create or replace function is_wished(agent text, environment text, wish text, avoid text, of_pool text, moment timestamptz)
returns boolean language sql stable as $$
  select (wish in ('', agent) or not exists (select from agents w where w.name = wish and ${HERE}))
    and (avoid <> agent or not exists (
      select from agents w where w.name <> agent and environment = any (w.environments)
        and (of_pool is null or w.pool = of_pool) and ${HERE}))
$$;`

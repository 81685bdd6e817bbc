/** The ordinary claim as one function of the database: each step plans its own small statement once, and
 * nothing travels between them. It is installed whenever the database is brought up to date (client.ts). What
 * is not ordinary it leaves as it is and reports as `something_else`; claim.ts then does it step by step. */
import {
  GATHERING,
  HELD_NAMES,
  IS_WISHED_FUNCTION,
  mayTake,
  ORDER_IN_RUN,
  RUN_IS_OPEN,
  seatsOfRotation,
  WAITS_FOR_ONE,
  WAITS_FOR_ROLES,
} from './claim-rules'

/** Another claim may have the best one in hand: then the next of the same environment is taken. */
const take = (which: string) => `
      update case_runs u set state = 'claimed', attempts = u.attempts + 1, shown_attempt = new_attempt
      where u.id = (select c.id from case_runs c where ${which} for update skip locked)
      returning u.* into taken;`

export const CLAIM_FUNCTIONS = `
drop function if exists claim_ordinary(uuid, integer, uuid, integer);
drop function if exists is_wished(text, text, text, text, text);
${IS_WISHED_FUNCTION}
create or replace function claim_ordinary(
  agent uuid, wanted_seat integer, new_attempt uuid, lease_ms integer, at_moment timestamptz,
  out something_else boolean, out taken case_runs, out made attempts
) returns record language plpgsql as $$
declare
  me agents;
  moment timestamptz := coalesce(at_moment, now());
  used int[];
  was_assigned boolean;
  free_seat int;
  held text[];
  several boolean;
  o record;
  e text;
  head case_runs;
  best case_runs;
begin
  something_else := false;
  select * into me from agents a where a.id = agent;
  select coalesce(array_agg(t.seat), '{}'), coalesce(bool_or(t.state = 'assigned'), false) into used, was_assigned
    from attempts t where t.agent_id = agent and t.state <> 'ended';
  if was_assigned then something_else := true; return; end if;
  if me.draining or me.paused then return; end if;
  select n into free_seat from generate_series(1, me.seats) n where n <> all (used)
    order by n is distinct from wanted_seat, n limit 1;
  if free_seat is null then return; end if;
  held := ${HELD_NAMES};
  several := (select count(*) > 1 from runs where ${RUN_IS_OPEN});
  -- Seats are being kept for a joint case: that goes before everything.
  if exists (
    select from case_runs c join runs r on r.id = c.run_id
    where c.state = 'waiting' and c.roles <> '{}' and c.gathering_at > moment - ${GATHERING}
      and c.role_environments && me.environments and r.${RUN_IS_OPEN}
  ) then something_else := true; return; end if;
  for o in
    select r.id, r.phase, r.pool, r.state from runs r
    where r.${RUN_IS_OPEN} and not r.paused and coalesce(r.pool, me.pool) = me.pool
    order by r.priority desc,
      case when several then ${seatsOfRotation('r')} else 0 end, r.id
  loop
    best := null;
    taken := null;
    select c.* into head from case_runs c
      where ${WAITS_FOR_ONE} and c.lane_agent = me.name and c.environment = any (me.environments) and ${mayTake('held')}
      order by ${ORDER_IN_RUN}, c.environment limit 1;
    if found then best := head; else
      foreach e in array me.environments loop
        select c.* into head from case_runs c
          where ${WAITS_FOR_ONE} and c.environment = e and ${mayTake('held')}
          order by ${ORDER_IN_RUN} limit 1;
        if found and (best.id is null
          or (head.lane_ms, -head.priority, head.position, head.environment)
            < (best.lane_ms, -best.priority, best.position, best.environment))
        then best := head; end if;
      end loop;
    end if;
    if exists (
      select from case_runs c where ${WAITS_FOR_ROLES} and c.role_environments && me.environments
        and (c.gathering_at is null or c.gathering_at < moment - 2 * ${GATHERING})
        and (best.id is null or c.lane_agent = me.name or c.lane_ms <= best.lane_ms)
    ) then something_else := true; return; end if;
    continue when best.id is null;
    if best.needs <> '{}' then something_else := true; return; end if;
    ${take("c.id = best.id and c.state = 'waiting'")}
    if not found then
      ${take(`${WAITS_FOR_ONE} and c.environment = best.environment and c.needs = '{}' and ${mayTake('held')}
        order by ${ORDER_IN_RUN} limit 1`)}
    end if;
    continue when taken.id is null;
    if taken.exclusive <> '{}' then
      insert into exclusive_holds (name, case_run_id) select unnest(taken.exclusive), taken.id;
    end if;
    if o.state = 'waiting' then
      update runs set state = 'running', started_at = moment where id = o.id and state = 'waiting';
    end if;
    insert into attempts (id, case_run_id, run_id, number, agent_id, agent_name, seat, lease, leased_until, state, claimed_at)
      values (new_attempt, taken.id, taken.run_id, taken.attempts, me.id, me.name, free_seat, taken.attempts,
        moment + lease_ms * interval '1 ms', 'claimed', moment)
      returning * into made;
    return;
  end loop;
end $$;`

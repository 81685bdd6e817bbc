CREATE FUNCTION is_wished(agent text, environment text, wish text, avoid text, of_pool text) RETURNS boolean LANGUAGE sql STABLE AS $$
-- A second try that wants the same agent, or any but that one, gets it as long as there is one that is here.
  SELECT (wish IN ('', agent) OR NOT EXISTS (SELECT FROM agents w WHERE w.name = wish AND NOT w.draining AND NOT w.paused AND w.removed_at IS NULL AND w.heartbeat_at > now() - interval '1 minute'))
    AND (avoid <> agent OR NOT EXISTS (SELECT FROM agents w WHERE w.name <> agent AND environment = ANY (w.environments) AND (of_pool IS NULL OR w.pool = of_pool) AND NOT w.draining AND NOT w.paused AND w.removed_at IS NULL AND w.heartbeat_at > now() - interval '1 minute'))
$$;--> statement-breakpoint
CREATE FUNCTION claim_ordinary(agent uuid, wanted_seat integer, new_attempt uuid, lease_ms integer, OUT something_else boolean, OUT taken case_runs, OUT made attempts) RETURNS record LANGUAGE plpgsql AS $$
-- The ordinary claim, whole in one call; src/db/claim.ts says the order, and does what is left to it ("something_else").
DECLARE
  me agents;
  used int[];
  waits_for_me boolean;
  free_seat int;
  held text[];
  several boolean;
  r record;
  e text;
  head case_runs;
  best case_runs;
BEGIN
  something_else := false;
  SELECT * INTO me FROM agents a WHERE a.id = agent;
  SELECT coalesce(array_agg(t.seat), '{}'), coalesce(bool_or(t.state = 'assigned'), false) INTO used, waits_for_me FROM attempts t WHERE t.agent_id = agent AND t.state <> 'ended';
  IF waits_for_me THEN something_else := true; RETURN; END IF;
  IF me.draining OR me.paused THEN RETURN; END IF;
  SELECT n INTO free_seat FROM generate_series(1, me.seats) n WHERE n <> ALL (used) ORDER BY n IS DISTINCT FROM wanted_seat, n LIMIT 1;
  IF free_seat IS NULL THEN RETURN; END IF;
  held := ARRAY(SELECT name FROM exclusive_holds);
  several := (SELECT count(*) > 1 FROM runs WHERE state IN ('waiting', 'running'));
  -- Seats are being kept for a joint case: that goes before everything.
  IF EXISTS (SELECT FROM case_runs c JOIN runs o ON o.id = c.run_id WHERE c.state = 'waiting' AND c.roles <> '{}' AND c.gathering_at > now() - interval '60 s' AND c.role_environments && me.environments AND o.state IN ('waiting', 'running')) THEN something_else := true; RETURN; END IF;
  FOR r IN
    SELECT o.id, o.phase, o.pool, o.state FROM runs o WHERE o.state IN ('waiting', 'running') AND NOT o.paused AND coalesce(o.pool, me.pool) = me.pool
    ORDER BY o.priority DESC, CASE WHEN several THEN (SELECT count(*) FROM attempts t JOIN runs s ON s.id = t.run_id WHERE t.state <> 'ended' AND coalesce(s.rotation_key, s.id::text) = coalesce(o.rotation_key, o.id::text)) ELSE 0 END, o.id
  LOOP
    best := NULL;
    taken := NULL;
    SELECT c.* INTO head FROM case_runs c
      WHERE c.run_id = r.id AND c.phase = r.phase AND c.lane_agent = me.name AND c.state = 'waiting' AND c.ready AND c.roles = '{}' AND c.environment = ANY (me.environments) AND c.agent IN ('', me.name) AND (c.exclusive = '{}' OR NOT c.exclusive && held) AND (c.wish_agent = '' AND c.avoid_agent = '' OR is_wished(me.name, c.environment, c.wish_agent, c.avoid_agent, r.pool))
      ORDER BY c.lane_ms, c.priority DESC NULLS LAST, c.position, c.environment LIMIT 1;
    IF FOUND THEN best := head; ELSE
      FOREACH e IN ARRAY me.environments LOOP
        SELECT c.* INTO head FROM case_runs c
          WHERE c.run_id = r.id AND c.phase = r.phase AND c.environment = e AND c.state = 'waiting' AND c.ready AND c.roles = '{}' AND c.agent IN ('', me.name) AND (c.exclusive = '{}' OR NOT c.exclusive && held) AND (c.wish_agent = '' AND c.avoid_agent = '' OR is_wished(me.name, c.environment, c.wish_agent, c.avoid_agent, r.pool))
          ORDER BY c.lane_ms, c.priority DESC NULLS LAST, c.position LIMIT 1;
        IF FOUND AND (best.id IS NULL OR (head.lane_ms, -head.priority, head.position, head.environment) < (best.lane_ms, -best.priority, best.position, best.environment)) THEN best := head; END IF;
      END LOOP;
    END IF;
    IF EXISTS (SELECT FROM case_runs c WHERE c.run_id = r.id AND c.state = 'waiting' AND c.roles <> '{}' AND c.ready AND c.phase = r.phase AND c.role_environments && me.environments
      AND (c.gathering_at IS NULL OR c.gathering_at < now() - interval '120 s') AND (best.id IS NULL OR c.lane_agent = me.name OR c.lane_ms <= best.lane_ms)) THEN something_else := true; RETURN; END IF;
    CONTINUE WHEN best.id IS NULL;
    IF best.needs <> '{}' THEN something_else := true; RETURN; END IF;
    UPDATE case_runs c SET state = 'claimed', attempts = c.attempts + 1, shown_attempt = new_attempt WHERE c.id = (SELECT c.id FROM case_runs c WHERE c.id = best.id AND c.state = 'waiting' FOR UPDATE SKIP LOCKED) RETURNING c.* INTO taken;
    IF NOT FOUND THEN -- Another claim has this one in hand: then the next of the same environment.
      UPDATE case_runs c SET state = 'claimed', attempts = c.attempts + 1, shown_attempt = new_attempt WHERE c.id = (
        SELECT c.id FROM case_runs c WHERE c.run_id = r.id AND c.phase = r.phase AND c.environment = best.environment AND c.state = 'waiting' AND c.ready AND c.roles = '{}' AND c.needs = '{}'
          AND c.agent IN ('', me.name) AND (c.exclusive = '{}' OR NOT c.exclusive && held) AND (c.wish_agent = '' AND c.avoid_agent = '' OR is_wished(me.name, c.environment, c.wish_agent, c.avoid_agent, r.pool)) ORDER BY c.lane_ms, c.priority DESC NULLS LAST, c.position LIMIT 1 FOR UPDATE SKIP LOCKED)
        RETURNING c.* INTO taken;
    END IF;
    CONTINUE WHEN taken.id IS NULL;
    IF taken.exclusive <> '{}' THEN INSERT INTO exclusive_holds (name, case_run_id) SELECT unnest(taken.exclusive), taken.id; END IF;
    IF r.state = 'waiting' THEN UPDATE runs SET state = 'running', started_at = now() WHERE id = r.id AND state = 'waiting'; END IF;
    INSERT INTO attempts (id, case_run_id, run_id, number, agent_id, agent_name, seat, lease, leased_until, state, claimed_at)
      VALUES (new_attempt, taken.id, taken.run_id, taken.attempts, me.id, me.name, free_seat, taken.attempts, now() + lease_ms * interval '1 ms', 'claimed', now()) RETURNING * INTO made;
    RETURN;
  END LOOP;
END $$;

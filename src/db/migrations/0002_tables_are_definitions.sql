DROP TABLE "data_sets" CASCADE;--> statement-breakpoint
-- What runs froze before handoffs and undo of routines were there.
update "runs" set "snapshot" = "snapshot"
  || jsonb_build_object('cases', (select coalesce(jsonb_object_agg(k, '{"needs":[]}'::jsonb || v), '{}') from jsonb_each("snapshot"->'cases') as e(k, v)))
  || jsonb_build_object('routines', (select coalesce(jsonb_object_agg(k, '{"undo":[]}'::jsonb || v), '{}') from jsonb_each("snapshot"->'routines') as e(k, v)));

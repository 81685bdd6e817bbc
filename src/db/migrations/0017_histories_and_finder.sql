CREATE INDEX "case_runs_lately" ON "case_runs" USING btree ("case_key","ended_at") WHERE ended_at is not null;--> statement-breakpoint
-- The finder looks for parts of words (src/db/finder.ts). Who may not add extensions to the database of their
-- choice does without these indexes: it finds the same, by reading the titles.
DO $$ BEGIN
  CREATE EXTENSION IF NOT EXISTS pg_trgm;
  CREATE INDEX definitions_words ON definitions USING gin (title gin_trgm_ops, key gin_trgm_ops);
  CREATE INDEX runs_words ON runs USING gin (title gin_trgm_ops, build gin_trgm_ops);
  CREATE INDEX defects_words ON defects USING gin (title gin_trgm_ops, tracker_number gin_trgm_ops);
EXCEPTION WHEN insufficient_privilege OR undefined_file OR feature_not_supported THEN
  RAISE NOTICE 'the finder works without its indexes: %', SQLERRM;
END $$;

DROP INDEX "attempts_open";--> statement-breakpoint
DROP INDEX "attempts_ended";--> statement-breakpoint
DROP INDEX "case_runs_to_claim";--> statement-breakpoint
DROP INDEX "case_runs_of_lane";--> statement-breakpoint
DROP INDEX "case_runs_history";--> statement-breakpoint
CREATE INDEX "attempts_open" ON "attempts" USING btree ("run_id") WHERE state <> 'ended';--> statement-breakpoint
CREATE INDEX "attempts_ended" ON "attempts" USING btree ("ended_at") WHERE ended_at is not null;--> statement-breakpoint
CREATE INDEX "case_runs_to_claim" ON "case_runs" USING btree ("run_id","phase","environment","lane_ms","priority" DESC NULLS LAST,"position") WHERE state = 'waiting' and ready and roles = '{}';--> statement-breakpoint
CREATE INDEX "case_runs_of_lane" ON "case_runs" USING btree ("run_id","phase","lane_agent","lane_ms","priority" DESC NULLS LAST,"position","environment") WHERE state = 'waiting' and ready and roles = '{}';--> statement-breakpoint
CREATE INDEX "case_runs_history" ON "case_runs" USING btree ("case_key","environment","ended_at") WHERE ended_at is not null;--> statement-breakpoint
ALTER TABLE "attempts" DROP COLUMN "seed";
CREATE TABLE "hooks" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"address" text NOT NULL,
	"events" text[] NOT NULL,
	"secret" text NOT NULL,
	"created_by" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"last_at" timestamp with time zone,
	"last_answer" text
);
--> statement-breakpoint
CREATE TABLE "taken_messages" (
	"id" text PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
DROP INDEX "case_runs_of_run";--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "labels" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "missing" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "removed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "phase" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "pool" text;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "phase" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "how" jsonb;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "run_limit_ms" integer;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "stop_after" integer;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "forecast" jsonb;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "ended_why" text;--> statement-breakpoint
ALTER TABLE "tokens" ADD COLUMN "scope" text DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX "attempts_lately" ON "attempts" USING btree ("claimed_at");--> statement-breakpoint
CREATE INDEX "occurrence_starts_between" ON "occurrence_starts" USING btree ("at");--> statement-breakpoint
CREATE UNIQUE INDEX "case_runs_of_run" ON "case_runs" USING btree ("run_id","position","environment","agent");
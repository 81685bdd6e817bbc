CREATE TABLE "joint_arrivals" (
	"case_run_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"point" text NOT NULL,
	"visit" integer NOT NULL,
	"role" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "joint_arrivals_case_run_id_number_point_visit_role_pk" PRIMARY KEY("case_run_id","number","point","visit","role")
);
--> statement-breakpoint
CREATE TABLE "joint_values" (
	"case_run_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"value" text NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "joint_values_case_run_id_number_name_pk" PRIMARY KEY("case_run_id","number","name")
);
--> statement-breakpoint
CREATE UNLOGGED TABLE "live_screens" (
	"attempt_id" uuid PRIMARY KEY NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"mime" text NOT NULL,
	"bytes" "bytea" NOT NULL
);
--> statement-breakpoint
DROP INDEX "attempts_of_case_run";--> statement-breakpoint
DROP INDEX "attempts_open";--> statement-breakpoint
DROP INDEX "case_runs_to_claim";--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "clock_off_ms" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "misbehaviours" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "role" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "told" text;--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "watched_until" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "shown_attempt" uuid;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "lane_agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "lane_ms" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "ready" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "roles" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "role_environments" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "gathering_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "priority" smallint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "ordered" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "no_undo" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "finish" jsonb;--> statement-breakpoint
ALTER TABLE "joint_arrivals" ADD CONSTRAINT "joint_arrivals_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "joint_values" ADD CONSTRAINT "joint_values_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "attempts_on_seats" ON "attempts" USING btree ("agent_id","seat") WHERE state <> 'ended';--> statement-breakpoint
CREATE INDEX "case_runs_of_lane" ON "case_runs" USING btree ("run_id","phase","lane_agent","lane_ms","position") WHERE state = 'waiting' and ready and roles = '{}';--> statement-breakpoint
CREATE INDEX "case_runs_joint" ON "case_runs" USING btree ("run_id") WHERE state = 'waiting' and roles <> '{}';--> statement-breakpoint
CREATE INDEX "case_runs_behind" ON "case_runs" USING btree ("run_id","environment") WHERE state = 'waiting' and not ready;--> statement-breakpoint
CREATE INDEX "case_runs_open" ON "case_runs" USING btree ("run_id","phase") WHERE state <> 'ended';--> statement-breakpoint
CREATE UNIQUE INDEX "attempts_of_case_run" ON "attempts" USING btree ("case_run_id","number","role");--> statement-breakpoint
CREATE INDEX "attempts_open" ON "attempts" USING btree ("leased_until") WHERE state <> 'ended';--> statement-breakpoint
CREATE INDEX "case_runs_to_claim" ON "case_runs" USING btree ("run_id","phase","environment","lane_ms","position") WHERE state = 'waiting' and ready and roles = '{}';--> statement-breakpoint
UPDATE case_runs c SET shown_attempt = t.id FROM attempts t WHERE t.case_run_id = c.id AND t.number = c.attempts;--> statement-breakpoint
UPDATE case_runs SET ready = false WHERE state = 'waiting' AND cardinality(after) > 0;--> statement-breakpoint
UPDATE runs SET ordered = true WHERE state <> 'ended' AND EXISTS (SELECT FROM case_runs c WHERE c.run_id = runs.id AND NOT c.ready);

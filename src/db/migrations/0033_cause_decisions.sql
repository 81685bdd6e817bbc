CREATE TABLE "cause_decisions" (
	"id" serial PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"decided_as" text NOT NULL,
	"note" text NOT NULL,
	"build" text NOT NULL,
	"run_id" integer,
	"title" text NOT NULL,
	"facts" jsonb NOT NULL,
	"decided_by" text NOT NULL,
	"decided_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_by" text,
	"taken_back_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "cause_decisions" ADD CONSTRAINT "cause_decisions_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "cause_decisions_standing" ON "cause_decisions" USING btree ("signature","id" DESC NULLS FIRST) WHERE "cause_decisions"."taken_back_at" is null;--> statement-breakpoint
CREATE INDEX "cause_decisions_of_run" ON "cause_decisions" USING btree ("run_id");
CREATE TABLE "shortenings" (
	"id" serial PRIMARY KEY NOT NULL,
	"attempt_id" uuid NOT NULL,
	"state" text DEFAULT 'going' NOT NULL,
	"tries" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"kept" jsonb,
	"steps" text,
	"is_shortest" boolean DEFAULT false NOT NULL,
	"problem" text,
	"started_by" text NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "shortenings" ADD CONSTRAINT "shortenings_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "shortenings_of_attempt" ON "shortenings" USING btree ("attempt_id","id" DESC NULLS FIRST);--> statement-breakpoint
CREATE UNIQUE INDEX "shortenings_going" ON "shortenings" USING btree ("attempt_id") WHERE state = 'going';
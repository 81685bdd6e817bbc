CREATE TABLE "guided_sheets" (
	"case_run_id" uuid PRIMARY KEY NOT NULL,
	"person" text NOT NULL,
	"verdicts" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"facts" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"worked_ms" integer DEFAULT 0 NOT NULL,
	"version" integer DEFAULT 0 NOT NULL,
	"pictures" text[] DEFAULT '{}' NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "guided_sheets" ADD CONSTRAINT "guided_sheets_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;
CREATE TABLE "databases" (
	"key" text PRIMARY KEY NOT NULL,
	"url" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "handoffs" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"run_id" integer NOT NULL,
	"environment" text NOT NULL,
	"name" text NOT NULL,
	"value" text NOT NULL,
	"row_index" integer,
	"case_run_id" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "imported_results" (
	"case_run_id" uuid PRIMARY KEY NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "secrets" (
	"name" text PRIMARY KEY NOT NULL,
	"sealed" text NOT NULL,
	"set_by" text NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "versions" (
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"number" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"who" text NOT NULL,
	"how" text NOT NULL,
	"changes" text[] NOT NULL,
	"source" text NOT NULL,
	CONSTRAINT "versions_kind_key_number_pk" PRIMARY KEY("kind","key","number")
);
--> statement-breakpoint
ALTER TABLE "defects" DROP CONSTRAINT "defects_attempt_id_attempts_id_fk";
--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "scopes" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "after" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "skips" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "stops" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "needs" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "definitions" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "definitions" ADD COLUMN "edited" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "definitions" ADD COLUMN "theirs" text;--> statement-breakpoint
ALTER TABLE "repositories" ADD COLUMN "found" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "repositories" ADD COLUMN "every_minutes" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "repositories" ADD COLUMN "webhook_secret" text;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "gone_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "handoffs" ADD CONSTRAINT "handoffs_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "handoffs" ADD CONSTRAINT "handoffs_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "imported_results" ADD CONSTRAINT "imported_results_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "handoffs_to_take" ON "handoffs" USING btree ("run_id","environment","name");--> statement-breakpoint
ALTER TABLE "defects" ADD CONSTRAINT "defects_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "definitions_of_repository" ON "definitions" USING btree ("repository_id");
CREATE TABLE "agents" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"token_id" uuid,
	"instance" text NOT NULL,
	"pool" text NOT NULL,
	"version" text NOT NULL,
	"seats" integer NOT NULL,
	"environments" text[] NOT NULL,
	"simulated" boolean NOT NULL,
	"draining" boolean DEFAULT false NOT NULL,
	"heartbeat_at" timestamp with time zone NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "agents_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "applications" (
	"key" text PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"address" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "attempts" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"case_run_id" uuid NOT NULL,
	"run_id" integer NOT NULL,
	"number" integer NOT NULL,
	"agent_id" uuid NOT NULL,
	"agent_name" text NOT NULL,
	"seat" integer NOT NULL,
	"lease" integer NOT NULL,
	"leased_until" timestamp with time zone NOT NULL,
	"state" text NOT NULL,
	"outcome" text,
	"failure_kind" text,
	"failure_message" text,
	"failure_path" text,
	"seed" integer NOT NULL,
	"claimed_at" timestamp with time zone NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"at_step" text,
	"screen" text
);
--> statement-breakpoint
CREATE TABLE "audit" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"who" text NOT NULL,
	"action" text NOT NULL,
	"subject" text NOT NULL,
	"detail" jsonb DEFAULT '{}'::jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "builds" (
	"label" text PRIMARY KEY NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "case_runs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"run_id" integer NOT NULL,
	"position" integer NOT NULL,
	"case_key" text NOT NULL,
	"title" text NOT NULL,
	"groups" text[] NOT NULL,
	"environment" text NOT NULL,
	"row_index" integer,
	"row_count" integer,
	"row" jsonb,
	"parameters" jsonb NOT NULL,
	"exclusive" text[] NOT NULL,
	"priority" integer DEFAULT 0 NOT NULL,
	"limit_ms" integer NOT NULL,
	"estimate_ms" integer NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"outcome" text,
	"attempts" integer DEFAULT 0 NOT NULL,
	"failure_kind" text,
	"failure_message" text,
	"failure_path" text,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"duration_ms" integer
);
--> statement-breakpoint
CREATE TABLE "data_sets" (
	"repository_id" integer NOT NULL,
	"file" text NOT NULL,
	"columns" jsonb NOT NULL,
	"rows" jsonb NOT NULL,
	CONSTRAINT "data_sets_repository_id_file_pk" PRIMARY KEY("repository_id","file")
);
--> statement-breakpoint
CREATE TABLE "defects" (
	"id" serial PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"steps" text NOT NULL,
	"expected" text NOT NULL,
	"actual" text NOT NULL,
	"severity" text NOT NULL,
	"environment" text NOT NULL,
	"build" text NOT NULL,
	"evidence" jsonb NOT NULL,
	"attempt_id" uuid,
	"case_key" text NOT NULL,
	"run_id" integer NOT NULL,
	"state" text DEFAULT 'draft' NOT NULL,
	"tracker_number" text,
	"tracker_state" text,
	"tracker_url" text,
	"send_tries" integer DEFAULT 0 NOT NULL,
	"send_problem" text,
	"created_by" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"sent_at" timestamp with time zone,
	"version" integer DEFAULT 1 NOT NULL
);
--> statement-breakpoint
CREATE TABLE "definitions" (
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"title" text NOT NULL,
	"repository_id" integer,
	"file" text NOT NULL,
	"hash" text NOT NULL,
	"document" jsonb NOT NULL,
	"source" text NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "definitions_kind_key_pk" PRIMARY KEY("kind","key")
);
--> statement-breakpoint
CREATE TABLE "environments" (
	"key" text PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"position" integer NOT NULL,
	"simulated" boolean NOT NULL,
	"facts" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "events" (
	"attempt_id" uuid NOT NULL,
	"no" integer NOT NULL,
	"body" jsonb NOT NULL,
	CONSTRAINT "events_attempt_id_no_pk" PRIMARY KEY("attempt_id","no")
);
--> statement-breakpoint
CREATE TABLE "evidence" (
	"hash" text PRIMARY KEY NOT NULL,
	"mime" text NOT NULL,
	"bytes" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "exclusive_holds" (
	"name" text PRIMARY KEY NOT NULL,
	"case_run_id" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "repositories" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"location" text NOT NULL,
	"branch" text NOT NULL,
	"folder" text DEFAULT '' NOT NULL,
	"commit" text,
	"read_at" timestamp with time zone,
	"problems" jsonb DEFAULT '[]'::jsonb NOT NULL,
	CONSTRAINT "repositories_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "runs" (
	"id" serial PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"kind" text DEFAULT 'run' NOT NULL,
	"suite_key" text NOT NULL,
	"build" text NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"retries" integer NOT NULL,
	"limit_ms" integer NOT NULL,
	"started_by" text NOT NULL,
	"snapshot" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"ended_at" timestamp with time zone,
	"again_of" integer
);
--> statement-breakpoint
CREATE TABLE "settings" (
	"name" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tokens" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"purpose" text NOT NULL,
	"name" text NOT NULL,
	"hash" text NOT NULL,
	"created_by" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"used_at" timestamp with time zone,
	"revoked_at" timestamp with time zone,
	CONSTRAINT "tokens_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "account" (
	"id" text PRIMARY KEY NOT NULL,
	"account_id" text NOT NULL,
	"provider_id" text NOT NULL,
	"user_id" text NOT NULL,
	"access_token" text,
	"refresh_token" text,
	"id_token" text,
	"access_token_expires_at" timestamp with time zone,
	"refresh_token_expires_at" timestamp with time zone,
	"scope" text,
	"password" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "session" (
	"id" text PRIMARY KEY NOT NULL,
	"token" text NOT NULL,
	"user_id" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"ip_address" text,
	"user_agent" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "session_token_unique" UNIQUE("token")
);
--> statement-breakpoint
CREATE TABLE "user" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"email" text NOT NULL,
	"email_verified" boolean DEFAULT false NOT NULL,
	"image" text,
	"username" text,
	"display_username" text,
	"role" text DEFAULT 'viewer' NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "user_email_unique" UNIQUE("email"),
	CONSTRAINT "user_username_unique" UNIQUE("username")
);
--> statement-breakpoint
CREATE TABLE "verification" (
	"id" text PRIMARY KEY NOT NULL,
	"identifier" text NOT NULL,
	"value" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"updated_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "agents" ADD CONSTRAINT "agents_token_id_tokens_id_fk" FOREIGN KEY ("token_id") REFERENCES "public"."tokens"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attempts" ADD CONSTRAINT "attempts_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "attempts" ADD CONSTRAINT "attempts_agent_id_agents_id_fk" FOREIGN KEY ("agent_id") REFERENCES "public"."agents"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "case_runs" ADD CONSTRAINT "case_runs_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "data_sets" ADD CONSTRAINT "data_sets_repository_id_repositories_id_fk" FOREIGN KEY ("repository_id") REFERENCES "public"."repositories"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "defects" ADD CONSTRAINT "defects_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "definitions" ADD CONSTRAINT "definitions_repository_id_repositories_id_fk" FOREIGN KEY ("repository_id") REFERENCES "public"."repositories"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "events" ADD CONSTRAINT "events_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "exclusive_holds" ADD CONSTRAINT "exclusive_holds_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "attempts_of_case_run" ON "attempts" USING btree ("case_run_id","number");--> statement-breakpoint
CREATE INDEX "attempts_open" ON "attempts" USING btree ("state","leased_until");--> statement-breakpoint
CREATE INDEX "attempts_of_run" ON "attempts" USING btree ("run_id");--> statement-breakpoint
CREATE INDEX "audit_newest" ON "audit" USING btree ("at");--> statement-breakpoint
CREATE UNIQUE INDEX "case_runs_of_run" ON "case_runs" USING btree ("run_id","position","environment");--> statement-breakpoint
CREATE INDEX "case_runs_to_claim" ON "case_runs" USING btree ("state","priority","run_id","position");--> statement-breakpoint
CREATE INDEX "case_runs_history" ON "case_runs" USING btree ("case_key","environment","ended_at");--> statement-breakpoint
CREATE INDEX "defects_newest" ON "defects" USING btree ("created_at");--> statement-breakpoint
CREATE INDEX "defects_of_case" ON "defects" USING btree ("case_key");--> statement-breakpoint
CREATE INDEX "defects_of_attempt" ON "defects" USING btree ("attempt_id");--> statement-breakpoint
CREATE INDEX "runs_newest" ON "runs" USING btree ("created_at");--> statement-breakpoint
CREATE INDEX "runs_open" ON "runs" USING btree ("state");--> statement-breakpoint
CREATE INDEX "account_user" ON "account" USING btree ("user_id");--> statement-breakpoint
CREATE INDEX "session_user" ON "session" USING btree ("user_id");
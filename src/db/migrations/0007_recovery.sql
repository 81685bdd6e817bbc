CREATE TABLE "quarantines" (
	"case_key" text PRIMARY KEY NOT NULL,
	"until" timestamp with time zone NOT NULL,
	"because" text NOT NULL,
	"set_by" text NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "agents" ADD COLUMN "paused" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "recoveries" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "policies" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "quarantined" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "wish_agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "case_runs" ADD COLUMN "avoid_agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "retry_on" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "retry_agent" text DEFAULT 'any' NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "paused" boolean DEFAULT false NOT NULL;
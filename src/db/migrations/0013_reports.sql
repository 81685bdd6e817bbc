ALTER TABLE "attempts" ADD COLUMN "reported_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "cancelling_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "tokens" ADD COLUMN "environments" text[] DEFAULT '{}' NOT NULL;
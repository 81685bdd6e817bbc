ALTER TABLE "attempts" ADD COLUMN "failure_tag" text;--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "failure_application" text;
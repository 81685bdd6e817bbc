ALTER TABLE "secrets" ADD COLUMN "applications" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "secrets" ADD COLUMN "pools" text[] DEFAULT '{}' NOT NULL;
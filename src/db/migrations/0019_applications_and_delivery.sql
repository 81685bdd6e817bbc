ALTER TABLE "applications" ADD COLUMN "stages" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "applications" ADD COLUMN "probe" jsonb;--> statement-breakpoint
ALTER TABLE "applications" ADD COLUMN "owner" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "applications" ADD COLUMN "mail" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "defects" ADD COLUMN "mail_to" text;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "stage" text;
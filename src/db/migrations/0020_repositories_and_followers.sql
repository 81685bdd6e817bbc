ALTER TABLE "definitions" ADD COLUMN "committed" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "repositories" ADD COLUMN "credentials" text;--> statement-breakpoint
ALTER TABLE "rota_marks" ADD COLUMN "since" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
CREATE INDEX "runs_of_rotation_ended" ON "runs" USING btree ("rotation_key","ended_at");--> statement-breakpoint
UPDATE "rota_marks" SET "since" = "seen_until";

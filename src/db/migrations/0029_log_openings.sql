ALTER TABLE "attempt_logs" ADD COLUMN "opening" jsonb;--> statement-breakpoint
ALTER TABLE "attempt_logs" ADD COLUMN "opening_version" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX "attempt_logs_opening" ON "attempt_logs" USING btree ("opening_version","events");
ALTER TABLE "runs" ADD COLUMN "live" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "runs_live" ON "runs" USING btree ("id") WHERE live and ended_at is null;
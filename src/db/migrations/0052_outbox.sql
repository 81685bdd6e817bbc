ALTER TABLE "defects" ADD COLUMN "attached" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "defects" ADD COLUMN "attach_problem" text;--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD COLUMN "seen_state" text;--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD COLUMN "other_state" text;--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD COLUMN "assignee" text;--> statement-breakpoint
CREATE INDEX "defects_to_send" ON "defects" USING btree ("id") WHERE state = 'to-send';--> statement-breakpoint
CREATE INDEX "tracker_messages_waiting" ON "tracker_messages" USING btree ("id") WHERE sent_at is null;
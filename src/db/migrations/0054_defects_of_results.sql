ALTER TABLE "defects" ADD COLUMN "case_run_id" uuid;--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD COLUMN "case_run_id" uuid;--> statement-breakpoint
ALTER TABLE "defects" ADD CONSTRAINT "defects_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD CONSTRAINT "tracker_messages_case_run_id_case_runs_id_fk" FOREIGN KEY ("case_run_id") REFERENCES "public"."case_runs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "defects_of_case_run" ON "defects" USING btree ("case_run_id");--> statement-breakpoint
CREATE UNIQUE INDEX "tracker_messages_of_case_run" ON "tracker_messages" USING btree ("defect_id","case_run_id") WHERE "tracker_messages"."case_run_id" is not null;
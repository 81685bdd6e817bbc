ALTER TABLE "cause_decisions" ADD COLUMN "defect_id" integer;--> statement-breakpoint
ALTER TABLE "cause_decisions" ADD CONSTRAINT "cause_decisions_defect_id_defects_id_fk" FOREIGN KEY ("defect_id") REFERENCES "public"."defects"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "cause_decisions_of_defect" ON "cause_decisions" USING btree ("defect_id");
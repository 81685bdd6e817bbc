CREATE TABLE "defect_states" (
	"id" serial PRIMARY KEY NOT NULL,
	"defect_id" integer NOT NULL,
	"state" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "defect_states" ADD CONSTRAINT "defect_states_defect_id_defects_id_fk" FOREIGN KEY ("defect_id") REFERENCES "public"."defects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "defect_states_of_defect" ON "defect_states" USING btree ("defect_id","id");--> statement-breakpoint
CREATE INDEX "defect_states_newest" ON "defect_states" USING btree ("at");
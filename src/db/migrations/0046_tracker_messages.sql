CREATE TABLE "tracker_messages" (
	"id" serial PRIMARY KEY NOT NULL,
	"defect_id" integer NOT NULL,
	"text" text NOT NULL,
	"state" text,
	"said_by" text NOT NULL,
	"said_at" timestamp with time zone DEFAULT now() NOT NULL,
	"sent_at" timestamp with time zone,
	"tries" integer DEFAULT 0 NOT NULL,
	"problem" text
);
--> statement-breakpoint
ALTER TABLE "tracker_messages" ADD CONSTRAINT "tracker_messages_defect_id_defects_id_fk" FOREIGN KEY ("defect_id") REFERENCES "public"."defects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "tracker_messages_of_defect" ON "tracker_messages" USING btree ("defect_id","id");
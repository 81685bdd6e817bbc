CREATE TABLE "report_mails" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"rotation_key" text NOT NULL,
	"recipients" text[] NOT NULL,
	"format" text NOT NULL,
	"about" text NOT NULL,
	"runs" integer NOT NULL,
	"every" text NOT NULL,
	"weekday" integer,
	"time" text,
	"zone" text,
	"next_at" timestamp with time zone,
	"last_at" timestamp with time zone,
	"last_problem" text,
	"created_by" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "report_mails_of" ON "report_mails" USING btree ("rotation_key");--> statement-breakpoint
CREATE INDEX "report_mails_due" ON "report_mails" USING btree ("next_at") WHERE next_at is not null;
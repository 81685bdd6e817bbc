CREATE TABLE "cause_handovers" (
	"id" serial PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"person" text NOT NULL,
	"note" text NOT NULL,
	"given_by" text NOT NULL,
	"given_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "cause_handovers_of_signature" ON "cause_handovers" USING btree ("signature","id" DESC NULLS FIRST);
CREATE TABLE "accepted_screens" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"case_key" text NOT NULL,
	"name" text NOT NULL,
	"environment" text NOT NULL,
	"hash" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"ignore" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"most" real DEFAULT 0 NOT NULL,
	"accepted_by" text NOT NULL,
	"accepted_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE UNIQUE INDEX "accepted_screens_now" ON "accepted_screens" USING btree ("case_key","name","environment") WHERE ended_at is null;--> statement-breakpoint
CREATE INDEX "accepted_screens_before" ON "accepted_screens" USING btree ("case_key","name","environment","id");--> statement-breakpoint
CREATE INDEX "accepted_screens_pieces" ON "accepted_screens" USING btree ("hash");
CREATE TABLE "experiments" (
	"id" serial PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"build" text NOT NULL,
	"likely" jsonb NOT NULL,
	"arms" jsonb NOT NULL,
	"started_by" text NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "experiments_of_signature" ON "experiments" USING btree ("signature","id" DESC NULLS FIRST);
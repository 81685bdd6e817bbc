CREATE TABLE "releases" (
	"id" serial PRIMARY KEY NOT NULL,
	"build" text NOT NULL,
	"decision" text NOT NULL,
	"note" text NOT NULL,
	"sheet" jsonb NOT NULL,
	"document" text NOT NULL,
	"sha256" text NOT NULL,
	"signed_by" text NOT NULL,
	"signed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "requirements" (
	"key" text PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"parent" text,
	"importance" text NOT NULL,
	"position" integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX "releases_of_build" ON "releases" USING btree ("build","id" DESC NULLS FIRST);--> statement-breakpoint
CREATE INDEX "runs_of_build" ON "runs" USING btree ("build");
CREATE TABLE "cause_merges" (
	"id" serial PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"title" text NOT NULL,
	"into_signature" text NOT NULL,
	"into_title" text NOT NULL,
	"merged_by" text NOT NULL,
	"merged_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_by" text,
	"taken_back_at" timestamp with time zone
);
--> statement-breakpoint
CREATE UNIQUE INDEX "cause_merges_holding" ON "cause_merges" USING btree ("signature") WHERE "cause_merges"."taken_back_at" is null;
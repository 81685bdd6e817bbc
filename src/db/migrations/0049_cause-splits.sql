CREATE TABLE "cause_splits" (
	"id" serial PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"title" text NOT NULL,
	"by" text NOT NULL,
	"value" text NOT NULL,
	"words" text NOT NULL,
	"split_by" text NOT NULL,
	"split_at" timestamp with time zone DEFAULT now() NOT NULL,
	"taken_back_by" text,
	"taken_back_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "lookers" (
	"person" text PRIMARY KEY NOT NULL,
	"signature" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX "cause_splits_holding" ON "cause_splits" USING btree ("signature","by","value") WHERE "cause_splits"."taken_back_at" is null;--> statement-breakpoint
CREATE INDEX "run_causes_of_signature" ON "run_causes" USING btree ("signature");
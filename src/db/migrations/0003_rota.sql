CREATE TABLE "occurrence_starts" (
	"rotation_key" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"state" text NOT NULL,
	"run_id" integer,
	"why" text,
	CONSTRAINT "occurrence_starts_rotation_key_at_pk" PRIMARY KEY("rotation_key","at")
);
--> statement-breakpoint
CREATE TABLE "rota_marks" (
	"rotation_key" text PRIMARY KEY NOT NULL,
	"seen_until" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "rotation_key" text;--> statement-breakpoint
ALTER TABLE "occurrence_starts" ADD CONSTRAINT "occurrence_starts_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "runs_of_rotation" ON "runs" USING btree ("rotation_key","id");
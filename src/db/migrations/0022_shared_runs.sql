CREATE TABLE "shared_runs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"run_id" integer NOT NULL,
	"hash" text NOT NULL,
	"created_by" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"revoked_at" timestamp with time zone,
	"used_at" timestamp with time zone,
	CONSTRAINT "shared_runs_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "shared_runs" ADD CONSTRAINT "shared_runs_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "shared_runs_of" ON "shared_runs" USING btree ("run_id");
CREATE TABLE "run_causes" (
	"run_id" integer NOT NULL,
	"signature" text NOT NULL,
	"cause" jsonb NOT NULL,
	CONSTRAINT "run_causes_run_id_signature_pk" PRIMARY KEY("run_id","signature")
);
--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "causes_version" text;--> statement-breakpoint
ALTER TABLE "run_causes" ADD CONSTRAINT "run_causes_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;
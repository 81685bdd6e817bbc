CREATE TABLE "live_lines" (
	"attempt_id" uuid PRIMARY KEY NOT NULL,
	"address" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "live_lines" ADD CONSTRAINT "live_lines_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE cascade ON UPDATE no action;
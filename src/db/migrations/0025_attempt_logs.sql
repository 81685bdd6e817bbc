CREATE TABLE "attempt_logs" (
	"attempt_id" uuid PRIMARY KEY NOT NULL,
	"events" integer NOT NULL,
	"last_no" integer NOT NULL,
	"piece" "bytea" NOT NULL
);
--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "log_in_rows" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "attempt_logs" ADD CONSTRAINT "attempt_logs_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attempts_to_pack" ON "attempts" USING btree ("ended_at") WHERE log_in_rows and ended_at is not null;
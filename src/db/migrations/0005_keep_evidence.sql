CREATE TABLE "evidence_uses" (
	"attempt_id" uuid NOT NULL,
	"hash" text NOT NULL,
	"kind" text NOT NULL,
	CONSTRAINT "evidence_uses_attempt_id_hash_kind_pk" PRIMARY KEY("attempt_id","hash","kind")
);
--> statement-breakpoint
ALTER TABLE "attempts" ADD COLUMN "dropped" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "evidence" ADD COLUMN "seen_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "evidence_uses" ADD CONSTRAINT "evidence_uses_attempt_id_attempts_id_fk" FOREIGN KEY ("attempt_id") REFERENCES "public"."attempts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "evidence_uses_of" ON "evidence_uses" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "attempts_ended" ON "attempts" USING btree ("ended_at");--> statement-breakpoint
CREATE INDEX "evidence_seen" ON "evidence" USING btree ("seen_at");--> statement-breakpoint
INSERT INTO "evidence_uses" ("attempt_id", "hash", "kind")
SELECT DISTINCT attempt_id, body->>'hash', CASE WHEN body->>'kind' = 'video' THEN 'video' ELSE 'screens' END FROM "events" WHERE body ? 'hash';

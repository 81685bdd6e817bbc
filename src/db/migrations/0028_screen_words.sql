CREATE TABLE "screen_words" (
	"hash" text PRIMARY KEY NOT NULL,
	"words" jsonb,
	"read_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "screen_words" ADD CONSTRAINT "screen_words_hash_evidence_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."evidence"("hash") ON DELETE cascade ON UPDATE no action;
CREATE TABLE "invitations" (
	"hash" text PRIMARY KEY NOT NULL,
	"user_id" text NOT NULL,
	"purpose" text NOT NULL,
	"created_by" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "second_factors" (
	"user_id" text PRIMARY KEY NOT NULL,
	"sealed_secret" text NOT NULL,
	"confirmed_at" timestamp with time zone,
	"last_step" bigint DEFAULT 0 NOT NULL,
	"recovery" text[] DEFAULT '{}' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_tries" (
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"failures" integer NOT NULL,
	"last_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sign_in_tries_kind_key_pk" PRIMARY KEY("kind","key")
);
--> statement-breakpoint
ALTER TABLE "audit" ADD COLUMN "actor" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "audit" ADD COLUMN "address" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "audit" ADD COLUMN "seal" bigint;--> statement-breakpoint
ALTER TABLE "audit" ADD COLUMN "hash" text;--> statement-breakpoint
ALTER TABLE "user" ADD COLUMN "state" text DEFAULT 'active' NOT NULL;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "second_factors" ADD CONSTRAINT "second_factors_user_id_user_id_fk" FOREIGN KEY ("user_id") REFERENCES "public"."user"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "invitations_of" ON "invitations" USING btree ("user_id");--> statement-breakpoint
CREATE UNIQUE INDEX "audit_sealed" ON "audit" USING btree ("seal");--> statement-breakpoint
CREATE INDEX "audit_of_actor" ON "audit" USING btree ("actor","id");
CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "contact_history" (
	"id" uuid NOT NULL,
	"revision" integer NOT NULL,
	"replaced_utc_ms" double precision NOT NULL,
	"record" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "contacts" (
	"id" uuid PRIMARY KEY NOT NULL,
	"revision" integer NOT NULL,
	"call" text NOT NULL,
	"band" text,
	"mode" text NOT NULL,
	"locator" text,
	"started_utc_ms" double precision NOT NULL,
	"practice" boolean NOT NULL,
	"deleted" boolean NOT NULL,
	"incomplete" boolean NOT NULL,
	"duplicate_key" text NOT NULL,
	"search" text NOT NULL,
	"record" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "documents" (
	"name" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "heard" (
	"id" uuid PRIMARY KEY NOT NULL,
	"slot_utc_ms" double precision NOT NULL,
	"mode" text NOT NULL,
	"source" text NOT NULL,
	"text" text NOT NULL,
	"call" text,
	"snr_db" double precision NOT NULL,
	"time_offset_s" double precision NOT NULL,
	"audio_offset_hz" double precision NOT NULL,
	"dial_frequency_hz" double precision,
	"clock_uncertainty_ms" double precision,
	"pass" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "journal_mark" (
	"id" integer PRIMARY KEY NOT NULL,
	"sequence" bigint NOT NULL
);
--> statement-breakpoint
CREATE INDEX "contact_history_id" ON "contact_history" USING btree ("id","revision");--> statement-breakpoint
CREATE INDEX "contacts_started" ON "contacts" USING btree ("started_utc_ms","id");--> statement-breakpoint
CREATE INDEX "contacts_call" ON "contacts" USING btree ("call");--> statement-breakpoint
CREATE INDEX "contacts_search" ON "contacts" USING gin ("search" gin_trgm_ops) WITH (fastupdate=off);--> statement-breakpoint
CREATE INDEX "contacts_duplicate" ON "contacts" USING btree ("duplicate_key","started_utc_ms");--> statement-breakpoint
CREATE INDEX "heard_slot" ON "heard" USING btree ("slot_utc_ms");
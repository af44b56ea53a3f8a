CREATE TABLE "clock_history" (
	"id" uuid PRIMARY KEY NOT NULL,
	"utc_ms" double precision NOT NULL,
	"kind" text NOT NULL,
	"source" text NOT NULL,
	"label" text NOT NULL,
	"error_ms" double precision,
	"uncertainty_ms" double precision,
	"words" text NOT NULL
);
--> statement-breakpoint
DROP INDEX "contacts_search";--> statement-breakpoint
CREATE INDEX "clock_history_utc" ON "clock_history" USING btree ("utc_ms");--> statement-breakpoint
CREATE INDEX "contacts_search" ON "contacts" USING gin ("search" gin_trgm_ops) WITH (fastupdate=false);
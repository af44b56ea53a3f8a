CREATE TABLE "ladder_results" (
	"id" uuid PRIMARY KEY NOT NULL,
	"utc_ms" double precision NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "ladder_results_utc" ON "ladder_results" USING btree ("utc_ms");
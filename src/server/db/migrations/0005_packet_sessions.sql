CREATE TABLE "packet_sessions" (
	"id" uuid PRIMARY KEY NOT NULL,
	"own" text NOT NULL,
	"peer" text NOT NULL,
	"via" jsonb NOT NULL,
	"by" text NOT NULL,
	"practice" boolean NOT NULL,
	"began_utc_ms" double precision NOT NULL,
	"ended_utc_ms" double precision NOT NULL,
	"lines" jsonb NOT NULL,
	"words" text NOT NULL
);
--> statement-breakpoint
CREATE INDEX "packet_sessions_began" ON "packet_sessions" USING btree ("began_utc_ms");
CREATE TABLE "level_history" (
	"id" uuid PRIMARY KEY NOT NULL,
	"utc_ms" double precision NOT NULL,
	"device_label" text NOT NULL,
	"noise_2500_dbfs" double precision NOT NULL,
	"headroom_db" double precision NOT NULL,
	"worst" text
);
--> statement-breakpoint
CREATE TABLE "level_profiles" (
	"id" uuid PRIMARY KEY NOT NULL,
	"saved_utc_ms" double precision NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "radio_sheets" (
	"id" uuid PRIMARY KEY NOT NULL,
	"updated_utc_ms" double precision NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "level_history_utc" ON "level_history" USING btree ("utc_ms");--> statement-breakpoint
CREATE INDEX "level_profiles_saved" ON "level_profiles" USING btree ("saved_utc_ms");
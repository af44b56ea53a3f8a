-- What is heard in every mode: a beginning and an end, a locator of its own, and what only one mode keeps as details.
ALTER TABLE "heard" RENAME COLUMN "slot_utc_ms" TO "start_utc_ms";--> statement-breakpoint
ALTER TABLE "heard" ADD COLUMN "end_utc_ms" double precision;--> statement-breakpoint
ALTER TABLE "heard" ADD COLUMN "locator" text;--> statement-breakpoint
ALTER TABLE "heard" ADD COLUMN "place" jsonb;--> statement-breakpoint
ALTER TABLE "heard" ADD COLUMN "details" jsonb;--> statement-breakpoint
UPDATE "heard" SET
	"mode" = lower("mode"),
	"start_utc_ms" = "start_utc_ms" + 500 + 1000 * "time_offset_s",
	"end_utc_ms" = "start_utc_ms" + 13140 + 1000 * "time_offset_s",
	"locator" = CASE WHEN "text" ~ ' RR73$' THEN NULL ELSE substring("text" from ' ([A-R]{2}[0-9]{2})$') END,
	"details" = jsonb_build_object('timeOffsetS', "time_offset_s", 'pass', "pass");--> statement-breakpoint
ALTER TABLE "heard" ALTER COLUMN "end_utc_ms" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "heard" ALTER COLUMN "details" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "heard" ALTER COLUMN "snr_db" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "heard" ALTER COLUMN "audio_offset_hz" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "heard" DROP COLUMN "time_offset_s";--> statement-breakpoint
ALTER TABLE "heard" DROP COLUMN "pass";--> statement-breakpoint
DROP INDEX "heard_slot";--> statement-breakpoint
CREATE INDEX "heard_start" ON "heard" USING btree ("start_utc_ms");

import { doublePrecision, index, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'

/** Small documents by name: the station, the settings. */
export const documents = pgTable('documents', {
  name: text('name').primaryKey(),
  value: jsonb('value').notNull(),
})

/** What was heard in every mode, with the evidence of how well and by which clock. */
export const heard = pgTable(
  'heard',
  {
    id: uuid('id').primaryKey(),
    mode: text('mode').notNull(),
    source: text('source').notNull(),
    startUtcMs: doublePrecision('start_utc_ms').notNull(),
    endUtcMs: doublePrecision('end_utc_ms').notNull(),
    text: text('text').notNull(),
    call: text('call'),
    locator: text('locator'),
    snrDb: doublePrecision('snr_db'),
    /** Where it is by its own words, in degrees. */
    place: jsonb('place').$type<{ latitudeDeg: number; longitudeDeg: number }>(),
    audioOffsetHz: doublePrecision('audio_offset_hz'),
    dialFrequencyHz: doublePrecision('dial_frequency_hz'),
    clockUncertaintyMs: doublePrecision('clock_uncertainty_ms'),
    /** What its mode keeps beside. */
    details: jsonb('details').notNull().$type<Record<string, unknown>>(),
  },
  (table) => [index('heard_start').on(table.startUtcMs)],
)

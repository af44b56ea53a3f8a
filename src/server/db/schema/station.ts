import { doublePrecision, index, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'

/** Small documents by name: the station, the settings. */
export const documents = pgTable('documents', {
  name: text('name').primaryKey(),
  value: jsonb('value').notNull(),
})

/** What was decoded, with the evidence of how well and by which clock. */
export const heard = pgTable(
  'heard',
  {
    id: uuid('id').primaryKey(),
    slotUtcMs: doublePrecision('slot_utc_ms').notNull(),
    mode: text('mode').notNull(),
    source: text('source').notNull(),
    text: text('text').notNull(),
    call: text('call'),
    snrDb: doublePrecision('snr_db').notNull(),
    timeOffsetS: doublePrecision('time_offset_s').notNull(),
    audioOffsetHz: doublePrecision('audio_offset_hz').notNull(),
    dialFrequencyHz: doublePrecision('dial_frequency_hz'),
    clockUncertaintyMs: doublePrecision('clock_uncertainty_ms'),
    pass: integer('pass').notNull(),
  },
  (table) => [index('heard_slot').on(table.slotUtcMs)],
)

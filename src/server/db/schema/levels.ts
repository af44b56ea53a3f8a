import { doublePrecision, index, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'

/** How a radio, an interface and a device were set when it was good. */
export const levelProfiles = pgTable(
  'level_profiles',
  {
    id: uuid('id').primaryKey(),
    savedUtcMs: doublePrecision('saved_utc_ms').notNull(),
    value: jsonb('value').notNull(),
  },
  (table) => [index('level_profiles_saved').on(table.savedUtcMs)],
)

/** Noise floor and headroom over time. */
export const levelHistory = pgTable(
  'level_history',
  {
    id: uuid('id').primaryKey(),
    utcMs: doublePrecision('utc_ms').notNull(),
    deviceLabel: text('device_label').notNull(),
    noise2500Dbfs: doublePrecision('noise_2500_dbfs').notNull(),
    headroomDb: doublePrecision('headroom_db').notNull(),
    worst: text('worst'),
  },
  (table) => [index('level_history_utc').on(table.utcMs)],
)

/** The settings of a radio in a mode, as its operator wrote them down. */
export const radioSheets = pgTable('radio_sheets', {
  id: uuid('id').primaryKey(),
  updatedUtcMs: doublePrecision('updated_utc_ms').notNull(),
  value: jsonb('value').notNull(),
})

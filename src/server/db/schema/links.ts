import { doublePrecision, index, jsonb, pgTable, uuid } from 'drizzle-orm/pg-core'

/** How climbs of the ladder ended, and with which settings. */
export const ladderResults = pgTable(
  'ladder_results',
  {
    id: uuid('id').primaryKey(),
    utcMs: doublePrecision('utc_ms').notNull(),
    value: jsonb('value').notNull(),
  },
  (table) => [index('ladder_results_utc').on(table.utcMs)],
)

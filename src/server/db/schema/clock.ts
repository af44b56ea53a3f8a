import { doublePrecision, index, pgTable, text, uuid } from 'drizzle-orm/pg-core'

/** What the sources of time said, how the timebase was moved, and what happened to the computer's clock. */
export const clockHistory = pgTable(
  'clock_history',
  {
    id: uuid('id').primaryKey(),
    utcMs: doublePrecision('utc_ms').notNull(),
    kind: text('kind').$type<'reading' | 'step' | 'event'>().notNull(),
    source: text('source').notNull(),
    label: text('label').notNull(),
    errorMs: doublePrecision('error_ms'),
    uncertaintyMs: doublePrecision('uncertainty_ms'),
    words: text('words').notNull(),
  },
  (table) => [index('clock_history_utc').on(table.utcMs)],
)

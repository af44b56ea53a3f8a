import { boolean, doublePrecision, index, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import type { SessionLine } from '@/core/packet/station/contracts'

/** What was said in packet sessions. */
export const packetSessions = pgTable(
  'packet_sessions',
  {
    id: uuid('id').primaryKey(),
    own: text('own').notNull(),
    peer: text('peer').notNull(),
    via: jsonb('via').notNull().$type<string[]>(),
    by: text('by').notNull().$type<'us' | 'them'>(),
    practice: boolean('practice').notNull(),
    beganUtcMs: doublePrecision('began_utc_ms').notNull(),
    endedUtcMs: doublePrecision('ended_utc_ms').notNull(),
    lines: jsonb('lines').notNull().$type<SessionLine[]>(),
    /** All of it as one text, to be searched. */
    words: text('words').notNull(),
  },
  (table) => [index('packet_sessions_began').on(table.beganUtcMs)],
)

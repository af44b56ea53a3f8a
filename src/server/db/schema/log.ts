import { sql } from 'drizzle-orm'
import { bigint, boolean, doublePrecision, index, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import type { Contact } from '@/core/log'

/** The log as it stands. The whole contact is in `record`; the columns beside it are what is searched and sorted by. */
export const contacts = pgTable(
  'contacts',
  {
    id: uuid('id').primaryKey(),
    revision: integer('revision').notNull(),
    call: text('call').notNull(),
    band: text('band'),
    mode: text('mode').notNull(),
    locator: text('locator'),
    startedUtcMs: doublePrecision('started_utc_ms').notNull(),
    practice: boolean('practice').notNull(),
    deleted: boolean('deleted').notNull(),
    incomplete: boolean('incomplete').notNull(),
    duplicateKey: text('duplicate_key').notNull(),
    search: text('search').notNull(),
    record: jsonb('record').$type<Contact>().notNull(),
  },
  (table) => [
    index('contacts_started').on(table.startedUtcMs, table.id),
    index('contacts_call').on(table.call),
    // Letter triples find a piece of text anywhere in a hundred thousand rows without reading them all.
    index('contacts_search')
      .using('gin', sql`${table.search} gin_trgm_ops`)
      .with({ fastupdate: false }),
    index('contacts_duplicate').on(table.duplicateKey, table.startedUtcMs),
  ],
)

/** Earlier revisions of contacts, so that an edit can be looked up and taken back. */
export const contactHistory = pgTable(
  'contact_history',
  {
    id: uuid('id').notNull(),
    revision: integer('revision').notNull(),
    replacedUtcMs: doublePrecision('replaced_utc_ms').notNull(),
    record: jsonb('record').$type<Contact>().notNull(),
  },
  (table) => [index('contact_history_id').on(table.id, table.revision)],
)

/** How far the journal has been applied. One row. */
export const journalMark = pgTable('journal_mark', {
  id: integer('id').primaryKey(),
  sequence: bigint('sequence', { mode: 'number' }).notNull(),
})

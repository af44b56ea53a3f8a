import { and, asc, count, desc, eq, exists, gte, ilike, inArray, lt, or, sql, type SQL } from 'drizzle-orm'
import { alias } from 'drizzle-orm/pg-core'
import { ContactTraces, duplicateKey, missingFrom, type Contact, type ContactPage, type ContactQuery } from '@/core/log'
import type { Database } from '../db/database'
import { contactHistory, contacts, journalMark } from '../db/schema'
import type { JournalEntry } from './journal'
import type { Totals, TotalsCache } from './totalsCache'

const MARK_ID = 1

function toRow(contact: Contact): typeof contacts.$inferInsert {
  const practice = contact.origin === 'practice'
  return {
    id: contact.id,
    revision: contact.revision,
    call: contact.call,
    band: contact.band,
    mode: contact.submode ?? contact.mode,
    locator: contact.locator,
    startedUtcMs: contact.startedUtcMs,
    practice,
    deleted: contact.deletedUtcMs !== null,
    incomplete: missingFrom(contact).length > 0,
    duplicateKey: `${practice ? 'practice' : 'air'} ${duplicateKey(contact)}`,
    search: [contact.call, contact.locator, contact.name, contact.place, contact.comment].filter(Boolean).join(' ').toLowerCase(),
    record: contact,
  }
}

/** How far the journal has been applied to this database. */
export async function readJournalMark(database: Database): Promise<number> {
  const rows = await database.select().from(journalMark).where(eq(journalMark.id, MARK_ID))
  return rows[0]?.sequence ?? 0
}

/**
 * Applies journal entries in one transaction. A contact replaces an older revision of itself, which goes to the history;
 * the same revision again changes nothing, so sending twice stores once.
 */
export async function applyEntries(database: Database, entries: readonly JournalEntry[], nowUtcMs: number): Promise<void> {
  if (entries.length === 0) return
  await database.transaction(async (tx) => {
    // Within a batch only the newest revision of a contact matters to the table, but all of them to the history.
    for (let from = 0; from < entries.length;) {
      const seen = new Set<string>()
      let to = from
      while (to < entries.length && to - from < 500 && !seen.has(entries[to]!.contact.id)) seen.add(entries[to++]!.contact.id)
      const rows = entries.slice(from, to).map((entry) => toRow(entry.contact))
      const revised = rows.filter((row) => row.revision > 1)
      if (revised.length > 0) {
        for (const row of revised) {
          const older = await tx
            .select()
            .from(contacts)
            .where(and(eq(contacts.id, row.id), lt(contacts.revision, row.revision)))
          if (older[0])
            await tx
              .insert(contactHistory)
              .values({ id: row.id, revision: older[0].revision, replacedUtcMs: nowUtcMs, record: older[0].record })
        }
      }
      await tx
        .insert(contacts)
        .values(rows)
        .onConflictDoUpdate({
          target: contacts.id,
          set: {
            revision: sql`excluded.revision`,
            call: sql`excluded.call`,
            band: sql`excluded.band`,
            mode: sql`excluded.mode`,
            locator: sql`excluded.locator`,
            startedUtcMs: sql`excluded.started_utc_ms`,
            practice: sql`excluded.practice`,
            deleted: sql`excluded.deleted`,
            incomplete: sql`excluded.incomplete`,
            duplicateKey: sql`excluded.duplicate_key`,
            search: sql`excluded.search`,
            record: sql`excluded.record`,
          },
          setWhere: sql`excluded.revision > ${contacts.revision}`,
        })
      from = to
    }
    const sequence = entries[entries.length - 1]!.sequence
    await tx
      .insert(journalMark)
      .values({ id: MARK_ID, sequence })
      .onConflictDoUpdate({ target: journalMark.id, set: { sequence: sql`greatest(${journalMark.sequence}, excluded.sequence)` } })
  })
  // Nothing else ever tells the planner of the embedded database how large the table has become.
  if (entries.length >= 1000) await database.execute(sql`analyze ${contacts}`)
}

const earlier = alias(contacts, 'earlier')

function isDuplicate(database: Database): SQL {
  return exists(
    database
      .select({ one: sql`1` })
      .from(earlier)
      .where(
        and(
          eq(earlier.duplicateKey, contacts.duplicateKey),
          eq(earlier.deleted, false),
          or(
            lt(earlier.startedUtcMs, contacts.startedUtcMs),
            and(eq(earlier.startedUtcMs, contacts.startedUtcMs), lt(earlier.id, contacts.id)),
          ),
        ),
      ),
  )
}

function conditions(database: Database, query: ContactQuery): SQL | undefined {
  const parts: (SQL | undefined)[] = [eq(contacts.deleted, query.show === 'deleted')]
  if (query.origin !== 'all') parts.push(eq(contacts.practice, query.origin === 'practice'))
  if (query.band) parts.push(eq(contacts.band, query.band))
  if (query.mode) parts.push(eq(contacts.mode, query.mode))
  for (const word of query.search.toLowerCase().split(/\s+/).filter(Boolean))
    parts.push(ilike(contacts.search, `%${word.replace(/[\\%_]/g, '\\$&')}%`))
  if (query.reference) parts.push(sql`${contacts.record}->>'ownReference' = ${query.reference}`)
  if (query.from > 0) parts.push(gte(contacts.startedUtcMs, query.from))
  if (query.to < 8.64e15) parts.push(lt(contacts.startedUtcMs, query.to))
  if (query.day) {
    const from = Date.parse(`${query.day}T00:00:00Z`)
    // A day that is none, such as the 31st of June, holds nothing.
    parts.push(Number.isNaN(from) ? sql`false` : and(gte(contacts.startedUtcMs, from), lt(contacts.startedUtcMs, from + 86_400_000)))
  }
  if (query.show === 'missing') parts.push(eq(contacts.incomplete, true))
  if (query.show === 'duplicates') parts.push(isDuplicate(database))
  return and(...parts)
}

const SORTS = {
  startedUtcMs: contacts.startedUtcMs,
  call: contacts.call,
  band: contacts.band,
  mode: contacts.mode,
  locator: contacts.locator,
}

async function countTotals(database: Database, query: ContactQuery): Promise<Totals> {
  const rows = await database
    .select({ total: count(), stations: sql<number>`count(distinct ${contacts.call})::int` })
    .from(contacts)
    .where(conditions(database, query))
  return rows[0] ?? { total: 0, stations: 0 }
}

/** Reads a part of the log. */
export async function listContacts(database: Database, query: ContactQuery, cache: TotalsCache): Promise<ContactPage> {
  const direction = query.direction === 'asc' ? asc : desc
  const rows = await database
    .select({ record: contacts.record })
    .from(contacts)
    .where(conditions(database, query))
    .orderBy(direction(SORTS[query.sort]), direction(contacts.startedUtcMs), direction(contacts.id))
    .limit(query.limit)
    .offset(query.offset)
  const ids = rows.map((row) => row.record.id)
  // Asked for the page alone: in the query above it would be answered for every row that is skipped too.
  const duplicates =
    ids.length === 0
      ? []
      : await database
          .select({ id: contacts.id })
          .from(contacts)
          .where(and(inArray(contacts.id, ids), isDuplicate(database)))
  const duplicateIds = new Set(duplicates.map((row) => row.id))
  const question = JSON.stringify([
    query.search,
    query.band,
    query.mode,
    query.origin,
    query.show,
    query.reference,
    query.day,
    query.from,
    query.to,
  ])
  const totals = await cache.get(question, () => countTotals(database, query))
  return { rows: rows.map(({ record }) => ({ ...record, duplicate: duplicateIds.has(record.id) })), ...totals }
}

/** Reads contacts for export in pieces, oldest first. */
export async function* exportContacts(database: Database, query: ContactQuery): AsyncGenerator<Contact[]> {
  const limit = 500
  let last: Contact | undefined
  for (;;) {
    const after: SQL | undefined = last && sql`(${contacts.startedUtcMs}, ${contacts.id}) > (${last.startedUtcMs}, ${last.id}::uuid)`
    const page = await database
      .select({ record: contacts.record })
      .from(contacts)
      .where(and(conditions(database, query), after))
      .orderBy(asc(contacts.startedUtcMs), asc(contacts.id))
      .limit(limit)
    if (page.length > 0) yield page.map((row) => row.record)
    if (page.length < limit) return
    last = page[page.length - 1]!.record
  }
}

/** Reads one contact, deleted or not, with its earlier revisions, newest first. */
export async function readContact(
  database: Database,
  id: string,
): Promise<{ contact: Contact; history: { record: Contact; replacedUtcMs: number }[] } | undefined> {
  const rows = await database.select().from(contacts).where(eq(contacts.id, id))
  if (!rows[0]) return undefined
  const history = await database.select().from(contactHistory).where(eq(contactHistory.id, id)).orderBy(desc(contactHistory.revision))
  return { contact: rows[0].record, history: history.map(({ record, replacedUtcMs }) => ({ record, replacedUtcMs })) }
}

/** Which of these ids the log already holds. */
export async function knownIds(database: Database, ids: readonly string[]): Promise<Set<string>> {
  const known = new Set<string>()
  for (let from = 0; from < ids.length; from += 1000) {
    const part = ids.slice(from, from + 1000)
    const rows = await database
      .select({ id: contacts.id })
      .from(contacts)
      .where(sql`${contacts.id} in ${part}`)
    rows.forEach((row) => known.add(row.id))
  }
  return known
}

/** Contacts with any of these calls that are not deleted: band, mode, name and locator for "worked before". */
/**
 * Revision of each contact in the database, read from the table itself.
 * @throws when the index by which the log is listed does not hold as many: it is damaged
 */
export async function storedRevisions(database: Database): Promise<Map<string, number>> {
  const rows = await database.select({ id: contacts.id, revision: contacts.revision }).from(contacts)
  const listed = await database.transaction(async (tx) => {
    await tx.execute(sql`set local enable_seqscan = off`)
    await tx.execute(sql`set local enable_bitmapscan = off`)
    return tx
      .select({ count: sql<number>`count(*)::int` })
      .from(contacts)
      .where(sql`${contacts.startedUtcMs} > '-infinity'`)
  })
  if (listed[0]!.count !== rows.length) throw new Error(`its list of contacts holds ${listed[0]!.count} of ${rows.length}`)
  return new Map(rows.map(({ id, revision }) => [id, revision]))
}

/** Contacts by their ids. */
export async function recordsOf(database: Database, ids: readonly string[]): Promise<Contact[]> {
  const rows = await database
    .select({ record: contacts.record })
    .from(contacts)
    .where(sql`${contacts.id} in ${ids}`)
  return rows.map((row) => row.record)
}

/** What tells contacts apart of all on the air with these calls, deleted ones left out. */
export async function tracesOf(database: Database, wanted: readonly { call: string }[]): Promise<ContactTraces> {
  const traces = new ContactTraces()
  const calls = [...new Set(wanted.map(({ call }) => call))]
  for (let from = 0; from < calls.length; from += 1000) {
    const part = calls.slice(from, from + 1000)
    const { call, band, mode, startedUtcMs } = contacts
    const submode = sql<string | null>`${contacts.record}->>'submode'`
    const rows = await database
      .select({ call, band, mode, submode, startedUtcMs })
      .from(contacts)
      .where(and(sql`${call} in ${part}`, eq(contacts.deleted, false), eq(contacts.practice, false)))
    rows.forEach((row) => traces.add(row))
  }
  return traces
}

export async function workedBefore(
  database: Database,
  calls: readonly string[],
  practice: boolean,
): Promise<{ call: string; band: string | null; mode: string; locator: string | null; name: string | null; startedUtcMs: number }[]> {
  if (calls.length === 0) return []
  const rows = await database
    .select({
      call: contacts.call,
      band: contacts.band,
      mode: contacts.mode,
      locator: contacts.locator,
      record: contacts.record,
      startedUtcMs: contacts.startedUtcMs,
    })
    .from(contacts)
    .where(and(sql`${contacts.call} in ${calls}`, eq(contacts.deleted, false), eq(contacts.practice, practice)))
    .orderBy(desc(contacts.startedUtcMs))
    .limit(2000)
  return rows.map(({ record, ...row }) => ({ ...row, name: record.name }))
}

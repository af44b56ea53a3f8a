import { and, desc, eq, gte, ilike, isNotNull, lt, or, sql } from 'drizzle-orm'
import type { z } from 'zod'
import {
  defaultSettings,
  openStation,
  settingsSchema,
  type HeardQuery,
  type HeardSummary,
  type HeardText,
  type HeardTextQuery,
  type Profile,
  type Settings,
  type Station,
} from '@/core/station'
import type { HeardReport } from '@/core/station/heardContract'
import type { Database } from './db/database'
import { documents, heard } from './db/schema'
import { copiesOf } from './documentCopies'

export async function readDocument(database: Database, name: string): Promise<unknown> {
  const rows = await database.select().from(documents).where(eq(documents.name, name))
  return rows[0]?.value
}

/** A document as it was stored, with what it lacks from the fallback; the fallback when it can no longer be read. */
export async function openDocument<T extends z.ZodType>(
  database: Database,
  name: string,
  schema: T,
  fallback: z.infer<T>,
): Promise<z.infer<T>> {
  const stored = await readDocument(database, name)
  const whole = Array.isArray(fallback) ? stored : { ...(fallback as object), ...(stored as object | undefined) }
  const parsed = schema.safeParse(whole)
  return parsed.success ? parsed.data : fallback
}

/** Stores a document: its copy on the disk first, then the database. */
export async function writeDocument(database: Database, name: string, value: unknown): Promise<void> {
  copiesOf(database)?.write(name, value)
  await database
    .insert(documents)
    .values({ name, value })
    .onConflictDoUpdate({ target: documents.name, set: { value: sql`excluded.value` } })
}

/** Reads station and settings; fields that an older version did not know take their defaults. */
export async function readProfile(database: Database, demo: boolean): Promise<Profile> {
  const settings = settingsSchema.safeParse({ ...defaultSettings, ...((await readDocument(database, 'settings')) as object | undefined) })
  return {
    station: openStation(await readDocument(database, 'station')),
    settings: settings.success ? settings.data : defaultSettings,
    demo,
  }
}

export async function writeStation(database: Database, station: Station): Promise<void> {
  await writeDocument(database, 'station', station)
}

export async function writeSettings(database: Database, settings: Settings): Promise<void> {
  await writeDocument(database, 'settings', settings)
}

/** Decodes are kept this long. */
const HEARD_KEPT_MS = 30 * 86_400_000

/** Stores decodes; the same one sent twice is stored once. */
export async function storeHeard(database: Database, reports: readonly HeardReport[], nowUtcMs: number): Promise<void> {
  if (reports.length === 0) return
  await database
    .insert(heard)
    .values([...reports])
    .onConflictDoNothing()
  await database.delete(heard).where(lt(heard.startUtcMs, nowUtcMs - HEARD_KEPT_MS))
}

/** The most stations that a map shows. */
const MOST_ON_MAP = 2000

/** Sums up who was heard since a moment, for those who told a locator; newest first. */
export async function summariseHeard(database: Database, { from, practice }: HeardQuery): Promise<HeardSummary[]> {
  const last = <T>(value: unknown) => sql<T>`(array_agg(${value} order by ${heard.startUtcMs} desc))[1]`
  const rows = await database
    .select({
      call: heard.call,
      locator: sql<
        string | null
      >`(array_agg(${heard.locator} order by ${heard.startUtcMs} desc) filter (where ${heard.locator} is not null))[1]`,
      lastUtcMs: sql<number>`max(${heard.startUtcMs})`,
      lastSnrDb: last<number | null>(heard.snrDb),
      times: sql<number>`count(*)::int`,
    })
    .from(heard)
    .where(
      and(gte(heard.startUtcMs, from), isNotNull(heard.call), practice ? eq(heard.source, 'practice') : sql`${heard.source} <> 'practice'`),
    )
    .groupBy(heard.call)
    .having(sql`count(${heard.locator}) > 0`)
    .orderBy(sql`max(${heard.startUtcMs}) desc`)
    .limit(MOST_ON_MAP)
  return rows.flatMap(({ call, locator: told, ...row }) => (call && told ? [{ call, locator: told, ...row }] : []))
}

/** Of what was found, the newest; a file holds more. */
const MOST_FOUND = 100
const MOST_IN_FILE = 50_000

/** Finds what was heard by a part of its text or of its call; newest first. */
export async function searchHeard(database: Database, { from, mode, practice, words, as }: HeardTextQuery): Promise<HeardText[]> {
  const pattern = `%${words.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`
  return database
    .select({
      ...{ mode: heard.mode, startUtcMs: heard.startUtcMs, text: heard.text },
      ...{ call: heard.call, snrDb: heard.snrDb, audioOffsetHz: heard.audioOffsetHz },
    })
    .from(heard)
    .where(
      and(
        gte(heard.startUtcMs, from),
        eq(heard.mode, mode),
        practice ? eq(heard.source, 'practice') : sql`${heard.source} <> 'practice'`,
        words === '' ? undefined : or(ilike(heard.text, pattern), ilike(heard.call, pattern)),
      ),
    )
    .orderBy(desc(heard.startUtcMs))
    .limit(as === 'file' ? MOST_IN_FILE : MOST_FOUND)
}

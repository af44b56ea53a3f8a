import { and, desc, eq, gte, lt, sql } from 'drizzle-orm'
import {
  levelHistorySchema,
  levelProfileSchema,
  radioSheetSchema,
  type LevelHistoryEntry,
  type LevelProfile,
  type RadioSheet,
} from '@/core/levels'
import type { Database } from './db/database'
import { levelHistory, levelProfiles, radioSheets } from './db/schema'
import { copyTable } from './documentCopies'

/** History is kept this long. */
const KEPT_MS = 90 * 86_400_000
const MOST_ROWS = 2000
const MOST_PROFILES = 200
export const MOST_SHEETS = 200

/** All profiles, newest first; what can no longer be read is left out. */
export async function readLevelProfiles(database: Database): Promise<LevelProfile[]> {
  const rows = await database.select().from(levelProfiles).orderBy(desc(levelProfiles.savedUtcMs)).limit(MOST_PROFILES)
  return rows.flatMap(({ value }) => levelProfileSchema.safeParse(value).data ?? [])
}

export async function storeLevelProfile(database: Database, profile: LevelProfile): Promise<void> {
  await database
    .insert(levelProfiles)
    .values({ id: profile.id, savedUtcMs: profile.savedUtcMs, value: profile })
    .onConflictDoUpdate({ target: levelProfiles.id, set: { savedUtcMs: profile.savedUtcMs, value: sql`excluded.value` } })
  await copyTable(database, 'levelProfiles')
}

export async function removeLevelProfile(database: Database, id: string): Promise<boolean> {
  const removed = await database.delete(levelProfiles).where(eq(levelProfiles.id, id)).returning({ id: levelProfiles.id })
  await copyTable(database, 'levelProfiles')
  return removed.length > 0
}

/** Stores points; the same one sent twice is stored once. */
export async function storeLevelHistory(database: Database, entries: readonly LevelHistoryEntry[], nowUtcMs: number): Promise<void> {
  if (entries.length === 0) return
  await database
    .insert(levelHistory)
    .values([...entries])
    .onConflictDoNothing()
  await database.delete(levelHistory).where(lt(levelHistory.utcMs, nowUtcMs - KEPT_MS))
}

/** The history between two instants, oldest first; of more than 2000 points the newest. */
export async function readLevelHistory(database: Database, fromUtcMs: number, toUtcMs: number): Promise<LevelHistoryEntry[]> {
  const rows = await database
    .select()
    .from(levelHistory)
    .where(and(gte(levelHistory.utcMs, fromUtcMs), lt(levelHistory.utcMs, toUtcMs)))
    .orderBy(desc(levelHistory.utcMs))
    .limit(MOST_ROWS)
  return rows.reverse().flatMap((row) => levelHistorySchema.safeParse(row).data ?? [])
}

export async function readSheets(database: Database): Promise<RadioSheet[]> {
  const rows = await database.select().from(radioSheets).orderBy(desc(radioSheets.updatedUtcMs)).limit(MOST_SHEETS)
  return rows.flatMap(({ value }) => radioSheetSchema.safeParse(value).data ?? [])
}

/** Stores sheets; one that is newer here than in the file stays as it is. @returns how many were taken */
export async function storeSheets(database: Database, sheets: readonly RadioSheet[]): Promise<number> {
  let taken = 0
  for (const sheet of sheets) {
    const written = await database
      .insert(radioSheets)
      .values({ id: sheet.id, updatedUtcMs: sheet.updatedUtcMs, value: sheet })
      .onConflictDoUpdate({
        target: radioSheets.id,
        set: { updatedUtcMs: sheet.updatedUtcMs, value: sql`excluded.value` },
        setWhere: sql`${radioSheets.updatedUtcMs} <= excluded.updated_utc_ms`,
      })
      .returning({ id: radioSheets.id })
    taken += written.length
  }
  await copyTable(database, 'radioSheets')
  return taken
}

export async function removeSheet(database: Database, id: string): Promise<boolean> {
  const removed = await database.delete(radioSheets).where(eq(radioSheets.id, id)).returning({ id: radioSheets.id })
  await copyTable(database, 'radioSheets')
  return removed.length > 0
}

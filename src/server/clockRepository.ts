import { and, desc, gte, lt } from 'drizzle-orm'
import { clockConfigSchema, defaultClockConfig, type ClockConfig, type ClockHistoryEntry } from '@/core/links'
import type { Database } from './db/database'
import { clockHistory } from './db/schema'
import { readDocument, writeDocument } from './stationRepository'

/** History is kept this long. */
const KEPT_MS = 90 * 86_400_000
const MOST_ROWS = 2000

/** Reads where the server looks for time; what an older version did not know takes its default. */
export async function readClockConfig(database: Database): Promise<ClockConfig> {
  const stored = await readDocument(database, 'clock')
  const parsed = clockConfigSchema.safeParse({ ...defaultClockConfig, ...(stored as object | undefined) })
  return parsed.success ? parsed.data : defaultClockConfig
}

export async function writeClockConfig(database: Database, config: ClockConfig): Promise<void> {
  await writeDocument(database, 'clock', config)
}

/** Stores points of the history; the same one sent twice is stored once. */
export async function storeClockHistory(database: Database, entries: readonly ClockHistoryEntry[], nowUtcMs: number): Promise<void> {
  if (entries.length === 0) return
  await database
    .insert(clockHistory)
    .values([...entries])
    .onConflictDoNothing()
  await database.delete(clockHistory).where(lt(clockHistory.utcMs, nowUtcMs - KEPT_MS))
}

/** The history between two instants, oldest first; of more than 2000 points the newest. */
export async function readClockHistory(database: Database, fromUtcMs: number, toUtcMs: number): Promise<ClockHistoryEntry[]> {
  const rows = await database
    .select()
    .from(clockHistory)
    .where(and(gte(clockHistory.utcMs, fromUtcMs), lt(clockHistory.utcMs, toUtcMs)))
    .orderBy(desc(clockHistory.utcMs))
    .limit(MOST_ROWS)
  return rows.reverse()
}

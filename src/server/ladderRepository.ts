import { desc, inArray } from 'drizzle-orm'
import { ladderResultSchema, type LadderResult } from '@/core/links'
import { storable } from '@/core/log'
import type { Database } from './db/database'
import { ladderResults } from './db/schema'

/** So many results are kept. */
const MOST_RESULTS = 200

/** Results of the ladder, newest first; what can no longer be read is left out. */
export async function readLadderResults(database: Database): Promise<LadderResult[]> {
  const rows = await database.select().from(ladderResults).orderBy(desc(ladderResults.utcMs)).limit(MOST_RESULTS)
  return rows.flatMap(({ value }) => ladderResultSchema.safeParse(value).data ?? [])
}

export async function storeLadderResult(database: Database, result: LadderResult): Promise<void> {
  // The words may quote what a device said, which may be anything.
  const value = { ...result, words: storable(result.words) }
  await database.insert(ladderResults).values({ id: result.id, utcMs: result.utcMs, value }).onConflictDoNothing()
  const old = database.select({ id: ladderResults.id }).from(ladderResults).orderBy(desc(ladderResults.utcMs)).offset(MOST_RESULTS)
  await database.delete(ladderResults).where(inArray(ladderResults.id, old))
}

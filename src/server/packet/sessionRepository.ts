import { and, desc, eq, ilike, notInArray, or } from 'drizzle-orm'
import type { KeptSession, KeptSessionsQuery } from '@/core/packet/station/contracts'
import { storable } from '@/core/log/storable'
import type { Database } from '../db/database'
import { packetSessions } from '../db/schema'

/** Sessions that are kept; the oldest are let go. */
const MOST_KEPT = 500
const MOST_FOUND = 50

/** Keeps a session, in place of what was kept of it before. */
export async function storePacketSession(database: Database, session: KeptSession): Promise<void> {
  const lines = session.lines.map((line) => ({ ...line, text: storable(line.text) }))
  const row = { ...session, lines, words: lines.map(({ text }) => text).join('\n') }
  await database.insert(packetSessions).values(row).onConflictDoUpdate({ target: packetSessions.id, set: row })
  const newest = database.select({ id: packetSessions.id }).from(packetSessions).orderBy(desc(packetSessions.beganUtcMs)).limit(MOST_KEPT)
  await database.delete(packetSessions).where(notInArray(packetSessions.id, newest))
}

/** Finds sessions by a part of what was said or of the other's call; newest first. */
export async function findPacketSessions(database: Database, { words, practice }: KeptSessionsQuery): Promise<KeptSession[]> {
  const pattern = `%${words.replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`
  const rows = await database
    .select()
    .from(packetSessions)
    .where(
      and(
        eq(packetSessions.practice, practice),
        words === '' ? undefined : or(ilike(packetSessions.words, pattern), ilike(packetSessions.peer, pattern)),
      ),
    )
    .orderBy(desc(packetSessions.beganUtcMs))
    .limit(MOST_FOUND)
  return rows.map(({ words: _, ...session }) => session)
}

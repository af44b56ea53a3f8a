import { and, asc, eq, gte, lt, sql } from 'drizzle-orm'
import { z } from 'zod'
import type { CountedContact } from '@/core/activation'
import type { Contact } from '@/core/log'
import type { Database } from '../db/database'
import { contacts } from '../db/schema'

export const sessionQuerySchema = z.object({
  from: z.coerce.number().finite().default(0),
  to: z.coerce.number().finite().default(8.64e15),
  practice: z
    .enum(['true', 'false'])
    .default('false')
    .transform((text) => text === 'true'),
  /** Made from this reference alone; empty for any. */
  reference: z.string().max(40).default(''),
})
export type SessionQuery = z.infer<typeof sessionQuerySchema>

const MOST = 5000

/** The contacts of a session, oldest first, as activation and statistics count them. */
export async function sessionContacts(database: Database, query: SessionQuery): Promise<CountedContact[]> {
  const rows = await database
    .select({ record: contacts.record })
    .from(contacts)
    .where(
      and(
        eq(contacts.deleted, false),
        eq(contacts.practice, query.practice),
        gte(contacts.startedUtcMs, query.from),
        lt(contacts.startedUtcMs, query.to),
        query.reference ? sql`${contacts.record}->>'ownReference' = ${query.reference}` : undefined,
      ),
    )
    .orderBy(asc(contacts.startedUtcMs))
    .limit(MOST)
  return rows.map(({ record }) => toCounted(record))
}

function toCounted(record: Contact): CountedContact {
  const heard = record.evidence.filter((e) => e.direction === 'heard' && e.timeOffsetS !== undefined).map((e) => e.timeOffsetS!)
  return {
    id: record.id,
    revision: record.revision,
    call: record.call,
    band: record.band,
    mode: record.submode ?? record.mode,
    locator: record.locator,
    startedUtcMs: record.startedUtcMs,
    endedUtcMs: record.endedUtcMs,
    otherReference: record.otherReference ?? null,
    transmissions: record.evidence.filter((e) => e.direction === 'sent').length,
    timeOffsetS: heard.length > 0 ? heard.reduce((a, b) => a + b) / heard.length : null,
  }
}

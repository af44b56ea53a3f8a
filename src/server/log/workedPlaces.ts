import { and, eq, isNotNull, sql } from 'drizzle-orm'
import type { WorkedPlacesList } from '@/core/log'
import { allocationOf } from '@/core/place'
import type { Database } from '../db/database'
import { contacts } from '../db/schema'

/** Which places the log holds, in practice or on the air. */
export async function workedPlaces(database: Database, practice: boolean): Promise<WorkedPlacesList> {
  const here = and(eq(contacts.deleted, false), eq(contacts.practice, practice))
  const locators = await database
    .selectDistinct({ locator: sql<string>`upper(left(${contacts.locator}, 4))` })
    .from(contacts)
    .where(and(here, isNotNull(contacts.locator)))
  const calls = await database.selectDistinct({ call: contacts.call }).from(contacts).where(here)
  const entities = new Set(calls.map(({ call }) => allocationOf(call)).filter((entity) => entity !== undefined))
  return { locators: locators.map((row) => row.locator), entities: [...entities] }
}

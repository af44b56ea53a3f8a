import { closeSync, fsyncSync, mkdirSync, openSync, readdirSync, readFileSync, renameSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import { eq, sql } from 'drizzle-orm'
import { z } from 'zod'
import type { Database } from './db/database'
import { documents, levelProfiles, radioSheets } from './db/schema'

/** A document is some kilobytes; what is larger was not written by us. */
const LARGEST_BYTES = 20_000_000

/**
 * A copy of each document (station, plan, address book, sheets, channels and the like) in a file of its own, forced to the
 * disk before the database has it: the database never asks the system to write through, and may be damaged by a power cut.
 */
export class DocumentCopies {
  constructor(private readonly folder: string) {
    mkdirSync(folder, { recursive: true })
  }

  /** Replaces a copy as a whole; safe on the disk when this returns. @throws what the file system says */
  write(name: string, value: unknown): void {
    const path = this.pathOf(name)
    const file = openSync(`${path}.new`, 'w', 0o600)
    try {
      const bytes = Buffer.from(JSON.stringify(value), 'utf8')
      for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at)
      fsyncSync(file)
    } finally {
      closeSync(file)
    }
    renameSync(`${path}.new`, path)
  }

  /** All copies that can be read, by name. */
  read(): Map<string, unknown> {
    const found = new Map<string, unknown>()
    for (const name of readdirSync(this.folder)) {
      if (!name.endsWith('.json')) continue
      try {
        const text = readFileSync(join(this.folder, name), 'utf8')
        if (text.length <= LARGEST_BYTES) found.set(decodeURIComponent(name.slice(0, -5)), JSON.parse(text))
      } catch {
        // Half a copy is none: the one in the database counts.
      }
    }
    return found
  }

  private pathOf(name: string): string {
    return join(this.folder, `${encodeURIComponent(name)}.json`)
  }
}

const copies = new WeakMap<Database, DocumentCopies>()

/** The copies that go with a database; none for one in memory. */
export const copiesOf = (database: Database): DocumentCopies | undefined => copies.get(database)

/**
 * Lets a database have copies of its documents from now on. Where the two differ the copy counts, for it was written first;
 * documents without a copy get one. @returns how many documents were brought back
 */
export async function keepCopies(database: Database, folder: string): Promise<number> {
  const kept = new DocumentCopies(folder)
  copies.set(database, kept)
  const ofTables = new DocumentCopies(join(folder, 'tables'))
  tableCopies.set(database, ofTables)
  const stored = new Map((await database.select().from(documents)).map(({ name, value }) => [name, value]))
  let restored = 0
  const found = kept.read()
  for (const [name, value] of found) {
    // Numbers and texts come back as they went, the order of fields need not.
    if (stored.has(name) && canonical(stored.get(name)) === canonical(value)) continue
    await database
      .insert(documents)
      .values({ name, value })
      .onConflictDoUpdate({ target: documents.name, set: { value: sql`excluded.value` } })
    restored++
  }
  for (const [name, value] of stored) if (!found.has(name)) kept.write(name, value)
  return restored + (await restoreTables(database, ofTables.read()))
}

/** Tables of few rows that somebody entered: each has one copy as a whole. */
const COPIED = { levelProfiles, radioSheets }
export type CopiedTable = keyof typeof COPIED
const tableCopies = new WeakMap<Database, DocumentCopies>()

/** Copies a table as it is now; whoever changed it is told only after this. @throws what the file system says */
export async function copyTable(database: Database, name: CopiedTable): Promise<void> {
  tableCopies.get(database)?.write(name, await database.select().from(COPIED[name]))
}

/** Makes the tables what their copies are. @returns how many rows were brought back */
async function restoreTables(database: Database, found: ReadonlyMap<string, unknown>): Promise<number> {
  let restored = 0
  for (const name of Object.keys(COPIED) as CopiedTable[]) {
    const table = COPIED[name]
    const rows = rowsSchema.safeParse(found.get(name))
    if (!rows.success) {
      await copyTable(database, name)
      continue
    }
    const stored = new Map((await database.select().from(table)).map((row) => [row.id, canonical(row)]))
    for (const row of rows.data) {
      if (stored.get(row.id) === canonical(row)) continue
      await database.delete(table).where(eq(table.id, row.id))
      await database.insert(table).values(row as typeof table.$inferInsert)
      restored++
    }
    const kept = new Set(rows.data.map(({ id }) => id))
    for (const id of stored.keys()) if (!kept.has(id)) await database.delete(table).where(eq(table.id, id))
  }
  return restored
}

const rowsSchema = z.array(z.looseObject({ id: z.uuid() }))

/** A text that is the same for equal values, whatever the order of their fields. */
function canonical(value: unknown): string {
  return JSON.stringify(value, (_, part: unknown) =>
    part !== null && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  )
}

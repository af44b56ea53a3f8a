import { join } from 'node:path'
import type { PGlite } from '@electric-sql/pglite'
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite'
import { migrate } from 'drizzle-orm/pglite/migrator'
import { startThread, type Thread } from '../threads/thread'
import type { DatabaseThread } from './databaseThread'
import { openSql, type RowMode } from './sqlHost'
import * as schema from './schema'

export type Database = PgliteDatabase<typeof schema>

export interface OpenDatabase {
  database: Database
  close(): Promise<void>
}

/** Opens the embedded database in this thread and brings its tables up to date. `undefined` keeps it in memory. */
export async function openDatabase(folder: string | undefined, root: string): Promise<OpenDatabase> {
  const client = await openSql(folder)
  return ready(client, root, () => client.close())
}

/**
 * Opens the embedded database in a thread of its own.
 * @param program the file of `databaseThread`
 * @param onEnded told why, when the thread ends by itself: nothing can be asked or stored from then on
 */
export async function openDatabaseThread(
  folder: string,
  root: string,
  program: string,
  onEnded?: (why: string) => void,
): Promise<OpenDatabase> {
  const thread = startThread<DatabaseThread>(program, { ...(onEnded && { onEnded }) })
  const close = async () => {
    try {
      await thread.calls.call('close')
    } finally {
      await thread.stop()
    }
  }
  try {
    await thread.calls.call('open', folder)
    return await ready(clientOf(thread), root, close)
  } catch (error) {
    await thread.stop()
    throw error
  }
}

async function ready(client: PGlite, root: string, close: () => Promise<void>): Promise<OpenDatabase> {
  const database = drizzle(client, { schema })
  await migrate(database, { migrationsFolder: join(root, 'src/server/db/migrations') })
  return { database, close }
}

/** The part of the database's client that the object-relational mapper uses, over a thread. */
function clientOf({ calls }: Thread<DatabaseThread>): PGlite {
  const within = (transaction?: number) => ({
    query: (sql: string, params: unknown[] = [], { rowMode = 'object' }: { rowMode?: RowMode } = {}) =>
      calls.call('query', sql, params, rowMode, transaction),
  })
  const client = {
    ...within(),
    async transaction<T>(work: (tx: ReturnType<typeof within>) => Promise<T>): Promise<T> {
      const transaction = await calls.call('begin')
      let value: T
      try {
        value = await work(within(transaction))
      } catch (error) {
        await calls.call('end', transaction, false).catch(() => undefined)
        throw error
      }
      await calls.call('end', transaction, true)
      return value
    },
  }
  return client as unknown as PGlite
}

import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { drizzle, type PgliteDatabase } from 'drizzle-orm/pglite'
import { migrate } from 'drizzle-orm/pglite/migrator'
import * as schema from './schema'

export type Database = PgliteDatabase<typeof schema>

/** Opens the embedded database in a folder of its own and brings its tables up to date. `undefined` keeps it in memory. */
export async function openDatabase(folder: string | undefined, root: string): Promise<{ database: Database; close(): Promise<void> }> {
  const client = await PGlite.create({ extensions: { pg_trgm }, ...(folder !== undefined && { dataDir: folder }) })
  const database = drizzle(client, { schema })
  await migrate(database, { migrationsFolder: join(root, 'src/server/db/migrations') })
  return { database, close: () => client.close() }
}

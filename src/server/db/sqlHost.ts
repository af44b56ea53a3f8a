import { PGlite, types, type Results, type Transaction } from '@electric-sql/pglite'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'

const asItIs = (value: string) => value
/** The object-relational mapper reads times itself: these types, and lists of them, come as the database writes them. */
const PARSERS = Object.fromEntries(
  [types.TIMESTAMP, types.TIMESTAMPTZ, types.INTERVAL, types.DATE, 1231, 1115, 1185, 1187, 1182].map((type) => [type, asItIs]),
)

export type RowMode = 'array' | 'object'

/** Opens the embedded database. @param folder `undefined` keeps it in memory */
export function openSql(folder: string | undefined): Promise<PGlite> {
  return PGlite.create({ extensions: { pg_trgm }, ...(folder !== undefined && { dataDir: folder }) })
}

/** The embedded database for callers elsewhere: transactions have numbers there. */
export class SqlHost {
  private n = 0
  private readonly open = new Map<number, { tx: Transaction; end: (commit: boolean) => void; ended: Promise<unknown> }>()

  constructor(private readonly client: PGlite) {}

  query(sql: string, params: unknown[], rowMode: RowMode, transaction?: number): Promise<Results> {
    const at = transaction === undefined ? this.client : this.open.get(transaction)?.tx
    if (!at) return Promise.reject(new Error('This transaction has ended.'))
    return at.query(sql, params, { rowMode, parsers: PARSERS })
  }

  /** Begins a transaction. Nothing else is asked until it has ended. @returns its number */
  begin(): Promise<number> {
    return new Promise((begun, failed) => {
      const n = ++this.n
      const ended: Promise<unknown> = this.client.transaction(async (tx) => {
        const commit = await new Promise<boolean>((end) => {
          this.open.set(n, { tx, end, ended: Promise.resolve().then(() => ended) })
          begun(n)
        })
        this.open.delete(n)
        if (!commit) await tx.rollback()
      })
      // Before it began: the database is closed. After it: whoever ends it is told.
      ended.catch(failed)
    })
  }

  /** @throws what the database says of the changes as a whole */
  async end(transaction: number, commit: boolean): Promise<void> {
    const found = this.open.get(transaction)
    if (!found) throw new Error('This transaction has ended.')
    found.end(commit)
    await found.ended
  }

  close(): Promise<void> {
    return this.client.close()
  }
}

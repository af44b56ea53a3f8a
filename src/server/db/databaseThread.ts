// The embedded database runs in a thread of its own: a question of hundreds of milliseconds must keep nobody else waiting.
import { withinThread } from '../threads/thread'
import { openSql, SqlHost, type RowMode } from './sqlHost'

let host: SqlHost | undefined
const opened = (): SqlHost => {
  if (!host) throw new Error('The database is not open.')
  return host
}

const own = {
  async open(folder: string): Promise<void> {
    host = new SqlHost(await openSql(folder))
  },
  query: (sql: string, params: unknown[], rowMode: RowMode, transaction?: number) => opened().query(sql, params, rowMode, transaction),
  begin: () => opened().begin(),
  end: (transaction: number, commit: boolean) => opened().end(transaction, commit),
  close: () => opened().close(),
}
export type DatabaseThread = typeof own

withinThread(own)

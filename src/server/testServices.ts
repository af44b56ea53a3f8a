import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ClockServices } from './clockServices'
import { openDatabase } from './db/database'
import { LinkServices } from './linkServices'
import { openHubHere } from './links/hubHere'
import { AdifImports } from './log/adifImports'
import { readAdifHere } from './log/adifReader'
import { Logbook } from './log/logbook'
import { NetworkServices } from './network/networkServices'
import { assemble, provideServices, type Services } from './services'

/**
 * All services over a database in memory and a folder of their own, known to the route handlers, for tests.
 * @param now the time at which contacts are changed
 */
export async function openTestServices(now: () => number): Promise<{ services: Services; folder: string; dispose(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'zeptik-test-'))
  const { database, close } = await openDatabase(undefined, process.cwd())
  const logbook = await Logbook.open(database, join(folder, 'contacts.journal'), now)
  const clock = await ClockServices.open(database, folder)
  const network = await NetworkServices.open(database, folder)
  const links = await LinkServices.open(database, network, async (host) => openHubHere(host))
  const imports = new AdifImports({ folder: join(folder, 'imports'), logbook, read: (path) => readAdifHere(path, randomUUID) })
  const config = { port: 1, host: '127.0.0.1', names: [], dataFolder: folder, demo: true }
  const services = assemble({ config, database, logbook, imports, clock, links, network }, async () => {
    await logbook.close()
    await close()
  })
  provideServices(services)
  return {
    ...{ services, folder },
    dispose: async () => {
      await services.close()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

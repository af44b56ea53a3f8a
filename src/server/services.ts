import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { ClockServices } from './clockServices'
import type { Config } from './config'
import type { Database } from './db/database'
import { seedDemo } from './demo'
import { LinkServices } from './linkServices'
import { FileKeyMark } from './links/fileKeyMark'
import type { Logbook } from './log/logbook'
import { NetworkServices } from './network/networkServices'
import { openData } from './openData'

/** All that a request can use. */
export interface Services {
  config: Config
  database: Database
  logbook: Logbook
  clock: ClockServices
  links: LinkServices
  network: NetworkServices
  close(): Promise<void>
}

/** Opens database and journal in the data folder, which must be locked by now. */
export async function openServices(config: Config, root: string, now: () => number): Promise<Services> {
  mkdirSync(config.dataFolder, { recursive: true })
  const { database, logbook, notes, close } = await openData(config.dataFolder, root, now)
  for (const note of notes) console.error(`zeptik: ${note}`)
  const clock = await ClockServices.open(database, config.dataFolder)
  const network = await NetworkServices.open(database, config.dataFolder)
  // It outlives us, so it must not be part of our bundle, which goes with us.
  const keyMark = new FileKeyMark({
    folder: config.dataFolder,
    watchScript: join(root, 'scripts', 'key-watch.mjs'),
    onProblem: (words) => console.error(`zeptik: ${words}`),
  })
  const links = await LinkServices.open(database, network, keyMark)
  const services: Services = {
    config,
    database,
    logbook,
    clock,
    links,
    network,
    async close() {
      await links.close()
      keyMark.close()
      await clock.close()
      await close()
    },
  }
  if (config.demo) await seedDemo(services, now())
  return services
}

const KEY = Symbol.for('zeptik.services')
const holder = globalThis as { [KEY]?: Services }

/** Makes the services known to route handlers, which Next bundles apart from the program that starts it. */
export function provideServices(services: Services): void {
  holder[KEY] = services
}

/** The services of this process. @throws when the server was started in another way than by its own program */
export function getServices(): Services {
  const services = holder[KEY]
  if (!services) throw new Error('The database is not open: start Zeptik with "npm start" or "npm run demo".')
  return services
}

import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { LeaseKeeper } from '@/core/station/leaseKeeper'
import { ClockServices } from './clockServices'
import type { Config } from './config'
import { openDatabaseThread, type Database } from './db/database'
import { seedDemo } from './demo'
import { LinkServices } from './linkServices'
import { RemoteHub } from './links/remoteHub'
import { AdifImports } from './log/adifImports'
import { readAdifInThread } from './log/adifReader'
import type { Logbook } from './log/logbook'
import { NetworkServices } from './network/networkServices'
import { openData } from './openData'
import { openPacketStation } from './packet/openPacketStation'
import type { PacketStation } from './packet/packetStation'
import type { Programs } from './programs'
import { StallWatch } from './stallWatch'

/** All that a request can use. */
export interface Services {
  config: Config
  database: Database
  logbook: Logbook
  imports: AdifImports
  clock: ClockServices
  links: LinkServices
  network: NetworkServices
  packet: PacketStation
  stalls: StallWatch
  lease: LeaseKeeper
  close(): Promise<void>
}

/** Puts the parts together with what only watches over them. @param closeData closes log and database, which come last */
export function assemble(parts: Omit<Services, 'stalls' | 'lease' | 'packet' | 'close'>, closeData: () => Promise<void>): Services {
  const { links, clock, imports } = parts
  const stalls = new StallWatch()
  const packet = openPacketStation(parts)
  const lease = new LeaseKeeper(
    () => void links.hub.key({ action: 'off' }),
    () => performance.now(),
    () => packet.silence(),
  )
  return {
    ...parts,
    stalls,
    lease,
    packet,
    async close() {
      stalls.close()
      await packet.close()
      await links.close()
      await clock.close()
      await imports.close()
      await closeData()
    },
  }
}

/** Opens database and journal in the data folder, which must be locked by now. */
export async function openServices(config: Config, root: string, programs: Programs, now: () => number): Promise<Services> {
  mkdirSync(config.dataFolder, { recursive: true })
  const { database, logbook, notes, close } = await openData(
    config.dataFolder,
    (folder) =>
      openDatabaseThread(folder, root, programs.database, (why) =>
        console.error(`zeptik: the database has ended (${why}). Stop Zeptik and start it anew; contacts wait in the browser until then.`),
      ),
    now,
  )
  for (const note of notes) console.error(`zeptik: ${note}`)
  const clock = await ClockServices.open(database, config.dataFolder)
  const network = await NetworkServices.open(database, config.dataFolder)
  const links = await LinkServices.open(database, network, (host) =>
    RemoteHub.open(host, {
      program: programs.links,
      folder: config.dataFolder,
      // It outlives us, so it must not be part of our bundle, which goes with us.
      watchScript: join(root, 'scripts', 'key-watch.mjs'),
      onProblem: (words) => console.error(`zeptik: ${words}`),
    }),
  )
  const imports = new AdifImports({
    folder: join(config.dataFolder, 'imports'),
    logbook,
    read: (path) => readAdifInThread(path, programs.adif),
  })
  const services = assemble({ config, database, logbook, imports, clock, links, network }, close)
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

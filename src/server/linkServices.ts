import { performance } from 'node:perf_hooks'
import { defaultLinkConfig, linkConfigSchema, type BytePort, type LinkConfig, type PortChoice } from '@/core/links'
import type { Database } from './db/database'
import { LinkHub } from './links/linkHub'
import { createSerialBytePort, listSerialPorts } from './ports/serialBytePort'
import { createTcpBytePort } from './ports/tcpBytePort'
import { LinkStandins } from './practice/linkStandins'
import { readDocument, writeDocument } from './stationRepository'

/** Links of the server: what they are set to, the hub that runs them, and the practice devices. */
export class LinkServices {
  readonly hub = new LinkHub({
    monotonicMs: () => performance.now(),
    utcMs: () => Date.now(),
    createPort,
    listPorts: async () => (await listSerialPorts()).map((port) => port.path),
  })
  readonly standins = new LinkStandins((state) => this.hub.setStandins(state))
  private current: LinkConfig = defaultLinkConfig

  private constructor(private readonly database: Database) {}

  static async open(database: Database): Promise<LinkServices> {
    const services = new LinkServices(database)
    // What an older version did not know takes its default.
    const stored = linkConfigSchema.safeParse({ ...defaultLinkConfig, ...((await readDocument(database, 'links')) as object | undefined) })
    services.current = stored.success ? stored.data : defaultLinkConfig
    await services.hub.configure(services.current)
    return services
  }

  get config(): LinkConfig {
    return this.current
  }

  async configure(config: LinkConfig): Promise<void> {
    await writeDocument(this.database, 'links', config)
    this.current = config
    await this.hub.configure(config)
  }

  async close(): Promise<void> {
    await this.hub.close()
    this.standins.stop()
  }
}

function createPort(port: PortChoice, serialBaud: number): BytePort {
  if (port.kind === 'serial') return createSerialBytePort(port.path, serialBaud)
  if (port.kind === 'tcp') return createTcpBytePort(port.host, port.port)
  const error = 'A port of the browser cannot be used by the field computer.'
  return {
    describe: () => 'a port of the browser',
    open: async () => ({ ok: false, error, fault: 'unsupported' }),
    write: async () => ({ ok: false, error }),
    close: async () => undefined,
  }
}

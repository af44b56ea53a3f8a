import { randomUUID } from 'node:crypto'
import { z } from 'zod'
import { defaultLinkConfig, linkConfigSchema, type LinkConfig, type LinkState, type PortChoice } from '@/core/links'
import { BUILT_IN_DIALECTS, catDialectSchema, type CatDialect } from '@/core/links/cat'
import type { Database } from './db/database'
import type { Done } from './done'
import { createInOrder } from './inOrder'
import { storeLadderResult } from './ladderRepository'
import type { Hub, HubHost } from './links/hub'
import type { NetworkServices } from './network/networkServices'
import { PortRelay } from './ports/portRelay'
import { LinkStandins } from './practice/linkStandins'
import { openDocument, writeDocument } from './stationRepository'

const MOST_DIALECTS = 20
const practicePortsSchema = z.object({ radio: z.number().nullable(), tnc: z.number().nullable() })
type PracticePorts = z.infer<typeof practicePortsSchema>
const NO_PORTS: PracticePorts = { radio: null, tnc: null }

/** A set-up without the links to practice devices that were there before and are no more; the same when there are none. */
function withoutPractice(config: LinkConfig, before: PracticePorts, now: PracticePorts): LinkConfig {
  const linked = (port: PortChoice | null, practice: number | null) =>
    practice !== null && port?.kind === 'tcp' && port.host === '127.0.0.1' && port.port === practice
  let next = config
  if (before.radio !== now.radio && linked(config.control.port, before.radio))
    next = {
      ...next,
      control: { ...next.control, enabled: false, port: null },
      keying: { ...next.keying, by: next.keying.by === 'cat' ? 'vox' : next.keying.by },
    }
  if (before.tnc !== now.tnc && linked(config.tnc.port, before.tnc)) next = { ...next, tnc: { ...next.tnc, enabled: false, port: null } }
  return next
}

/** Links of the server: what they are set to, the hub that runs them, and the practice devices. */
export class LinkServices {
  readonly standins = new LinkStandins((state) => this.standinsChanged(state))
  private current: LinkConfig = defaultLinkConfig
  private own: CatDialect[] = []
  /** All own dialects stand in one document, and one that is in use must not go. */
  private readonly inOrder = createInOrder()
  private practicePorts: PracticePorts = NO_PORTS
  /** Told of each frame that the TNC hears. */
  onPacket: (frame: Uint8Array) => void = () => undefined
  /** The last change of practice devices has been followed everywhere. */
  settled: Promise<void> = Promise.resolve()

  private constructor(
    private readonly database: Database,
    readonly relay: PortRelay,
    readonly hub: Hub,
  ) {}

  /** @param openHub where the links are run */
  static async open(database: Database, network: NetworkServices, openHub: (host: HubHost) => Promise<Hub>): Promise<LinkServices> {
    const relay = new PortRelay()
    const hub = await openHub({
      // Nothing is heard before the services stand.
      onPacket: (frame) => services.onPacket(frame),
      loginFor: async (host, port) => network.loginFor(host, port),
      lentPort: (by, serialBaud) => relay.createPort(by, serialBaud),
      onVerdict: (link, verdict) => {
        const told = verdict.ok
          ? { ok: true, rung: null, code: null, words: verdict.words }
          : { ok: false, rung: verdict.rung, code: verdict.code, words: `${verdict.evidence} ${verdict.advice}` }
        const result = { id: randomUUID(), utcMs: Date.now(), link, ...told, config: services.current }
        storeLadderResult(database, result).catch((error) => console.error('zeptik: a result of the ladder could not be kept:', error))
      },
    })
    const services = new LinkServices(database, relay, hub)
    const dialects = await openDocument(database, 'dialects', z.array(z.unknown()), [])
    // One that an older version took and this one does not must not take the others with it.
    services.own = dialects.flatMap((dialect) => catDialectSchema.safeParse(dialect).data ?? [])
    services.current = await openDocument(database, 'links', linkConfigSchema, defaultLinkConfig)
    // A practice device of the last run is gone, and its port with it.
    const practice = await openDocument(database, 'practicePorts', practicePortsSchema, NO_PORTS)
    const without = withoutPractice(services.current, practice, NO_PORTS)
    if (without !== services.current) {
      services.current = without
      await writeDocument(database, 'links', without)
    }
    // Whatever has that port from now on is no practice device.
    await writeDocument(database, 'practicePorts', NO_PORTS)
    await hub.setDialects(services.own)
    await hub.configure(services.current)
    return services
  }

  /** What was linked to a practice device that has been stopped is linked no more. */
  private standinsChanged(state: LinkState['standins']): void {
    this.hub.setStandins(state)
    const ports = { radio: state.radio?.port ?? null, tnc: state.tnc?.port ?? null }
    const before = this.practicePorts
    this.practicePorts = ports
    this.settled = this.inOrder(async () => {
      await writeDocument(this.database, 'practicePorts', ports)
      const config = withoutPractice(this.current, before, ports)
      if (config !== this.current) await this.apply(config)
    }).catch((error) => console.error('zeptik: the practice ports could not be kept:', error))
  }

  get config(): LinkConfig {
    return this.current
  }

  get ownDialects(): readonly CatDialect[] {
    return this.own
  }

  configure(config: LinkConfig): Promise<Done> {
    return this.inOrder(() => this.apply(config))
  }

  private async apply(config: LinkConfig): Promise<Done> {
    if (![...BUILT_IN_DIALECTS, ...this.own].some((d) => d.id === config.control.dialect))
      return { ok: false, error: `There is no command set "${config.control.dialect}". Choose another.` }
    await writeDocument(this.database, 'links', config)
    this.current = config
    await this.hub.configure(config)
    return { ok: true }
  }

  /** Takes a dialect of the operator's, instead of one of the same id. */
  storeDialect(dialect: CatDialect): Promise<Done> {
    return this.inOrder(async () => {
      if (BUILT_IN_DIALECTS.some((d) => d.id === dialect.id))
        return { ok: false, error: `"${dialect.id}" is built in. Give yours another id.` }
      const others = this.own.filter((d) => d.id !== dialect.id)
      if (others.length >= MOST_DIALECTS) return { ok: false, error: `At most ${MOST_DIALECTS} command sets are kept: remove one first.` }
      await this.storeDialects([...others, dialect])
      if (this.current.control.dialect === dialect.id) await this.hub.reopenControl()
      return { ok: true }
    })
  }

  removeDialect(id: string): Promise<Done> {
    return this.inOrder(async () => {
      if (this.current.control.dialect === id) return { ok: false, error: 'It is in use: choose another command set first.' }
      if (!this.own.some((d) => d.id === id)) return { ok: false, error: 'There is no such command set any more.' }
      await this.storeDialects(this.own.filter((d) => d.id !== id))
      return { ok: true }
    })
  }

  private async storeDialects(own: CatDialect[]): Promise<void> {
    await writeDocument(this.database, 'dialects', own)
    this.own = own
    await this.hub.setDialects(own)
  }

  async close(): Promise<void> {
    await this.hub.close()
    this.standins.stop()
  }
}

import { randomUUID } from 'node:crypto'
import {
  fromBase64,
  toBase64,
  type BytePort,
  type BytePortEvents,
  type PortOutcome,
  type Relayed,
  type RelayOrder,
  type RelayReport,
} from '@/core/links'

const OPEN_MS = 8000
const ANSWER_MS = 1500

interface Session {
  id: string
  orders: RelayOrder[]
  wake: () => void
}
type Order = RelayOrder extends infer O ? (O extends { n: number } ? Omit<O, 'n'> : never) : never

export const describeLent = (by: Relayed): string =>
  ({ serial: 'The serial port of a browser', bluetooth: 'The Bluetooth device of a browser', modem: 'The modem of a browser' })[by]

const HOW_TO_ATTACH: Record<Relayed, string> = {
  serial: 'Open Connect on the device that holds it and pick it there.',
  bluetooth: 'Open Connect on the device that holds it and pick it there.',
  modem: 'Bring packet to the front on the device that has the sound, and start listening there.',
}

/** One port that a browser holds and lends to the server: orders go out as events, reports come back as posts. */
class Slot {
  session: Session | undefined
  private events: BytePortEvents | undefined
  private readonly waiting = new Map<number, (outcome: PortOutcome) => void>()
  private n = 0

  constructor(private readonly by: Relayed) {}

  describe(): string {
    return describeLent(this.by)
  }

  attach(): Session {
    // The tab that had it must let go, or the new one finds it busy.
    this.session?.orders.push({ type: 'close', n: ++this.n })
    this.session?.wake()
    this.lost(`${this.describe()} was taken over by another tab.`)
    this.session = { id: randomUUID(), orders: [], wake: () => undefined }
    return this.session
  }

  detach(session: Session): void {
    if (this.session !== session) return
    this.session = undefined
    this.lost(`${this.describe()} is gone: its page was closed or went to sleep.`)
  }

  report(report: RelayReport): boolean {
    if (this.session?.id !== report.session) return false
    if (report.type === 'bytes') this.events?.onBytes(fromBase64(report.bytes))
    else if (report.type === 'closed') this.lost(report.why)
    else {
      const { ok, error = 'The browser says no.', fault } = report
      this.waiting.get(report.n)?.(ok ? { ok: true } : { ok: false, error, ...(fault && { fault }) })
    }
    return true
  }

  private lost(why: string): void {
    const { events } = this
    this.events = undefined
    for (const done of [...this.waiting.values()]) done({ ok: false, error: why, fault: 'missing' })
    events?.onClosed(why)
  }

  private order(order: Order, timeoutMs = ANSWER_MS): Promise<PortOutcome> {
    const { session } = this
    if (!session)
      return Promise.resolve({
        ok: false,
        fault: 'missing',
        error: `${this.describe()} is not attached. ${HOW_TO_ATTACH[this.by]}`,
      })
    const n = ++this.n
    return new Promise((resolve) => {
      const timer = setTimeout(() => done({ ok: false, fault: 'timeout', error: `${this.describe()} did not answer in time.` }), timeoutMs)
      const done = (outcome: PortOutcome) => {
        clearTimeout(timer)
        this.waiting.delete(n)
        resolve(outcome)
      }
      this.waiting.set(n, done)
      session.orders.push({ ...order, n } as RelayOrder)
      session.wake()
    })
  }

  createPort(serialBaud: number): BytePort {
    let mine: BytePortEvents | undefined
    const open = () => mine !== undefined && this.events === mine
    const closed: PortOutcome = { ok: false, error: `${this.describe()} is not open.` }
    return {
      describe: () => this.describe(),
      open: async (events) => {
        const opened = await this.order({ type: 'open', serialBaud }, OPEN_MS)
        if (opened.ok) {
          mine = { ...events }
          this.events = mine
        }
        return opened
      },
      write: async (bytes) => (open() ? this.order({ type: 'write', bytes: toBase64(bytes) }) : closed),
      ...(this.by === 'serial' && {
        setLines: async (lines) => (open() ? this.order({ type: 'lines', ...lines }) : closed),
      }),
      setLastWill: async ({ bytes, lines }) => {
        if (open()) await this.order({ type: 'will', bytes: toBase64(bytes), lines })
      },
      close: async () => {
        if (!open()) return
        this.events = undefined
        mine = undefined
        await this.order({ type: 'close' })
      },
    }
  }
}

/** The ports that browsers lend. */
export class PortRelay {
  private readonly slots: Record<Relayed, Slot> = { serial: new Slot('serial'), bluetooth: new Slot('bluetooth'), modem: new Slot('modem') }

  createPort(by: Relayed, serialBaud: number): BytePort {
    return this.slots[by].createPort(serialBaud)
  }

  /** A browser offers its port; whoever offered one before loses it. */
  attach(by: Relayed): { read(): { session: string; orders: RelayOrder[] }; subscribe(listener: () => void): () => void } {
    const slot = this.slots[by]
    const session = slot.attach()
    return {
      read: () => ({ session: session.id, orders: session.orders.splice(0) }),
      subscribe(listener) {
        session.wake = listener
        return () => slot.detach(session)
      },
    }
  }

  /** @returns false when the report belongs to no session of now */
  report(report: RelayReport): boolean {
    return this.slots[report.by].report(report)
  }
}

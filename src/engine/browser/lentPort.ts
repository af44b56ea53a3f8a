import { fromBase64, relayEventSchema, toBase64, type BytePort, type PortOutcome, type Relayed, type RelayOrder } from '@/core/links'
import { post } from './http'
import { followEvents } from './followEvents'

export interface LentPortOptions {
  by: Relayed
  /** Makes the port anew for each opening, at the speed that is asked for. */
  createPort: (serialBaud: number) => BytePort
  /** Tells in words what goes on. */
  onState: (words: string) => void
  send?: (report: object) => Promise<PortOutcome>
}

type Will = Extract<RelayOrder, { type: 'will' }>

/**
 * Lends a port of this device to the field computer: carries out its orders, and reports what comes back. When the
 * field computer is lost, the last will is carried out, so that no radio stays keyed, and the port is let go.
 */
export class LentPort {
  private port: BytePort | undefined
  private session = ''
  private will: Will | undefined
  private readonly end: () => void
  /** Orders are carried out in the order in which they came, reports go out likewise. */
  private working: Promise<unknown> = Promise.resolve()
  private reporting: Promise<unknown> = Promise.resolve()

  constructor(private readonly options: LentPortOptions) {
    this.options.onState('Offered to the field computer.')
    this.end = followEvents(`/api/links/relay?by=${options.by}`, relayEventSchema, {
      onValue: ({ session, orders }) => {
        this.session = session
        for (const order of orders) this.working = this.working.then(() => this.carryOut(order))
      },
      onLost: () => {
        this.working = this.working.then(() => this.serverLost())
      },
    })
  }

  /** Takes the port back. */
  async stop(): Promise<void> {
    this.end()
    await this.working
    await this.serverLost()
    this.options.onState('Not lent.')
  }

  private report(part: object): void {
    const report = { by: this.options.by, session: this.session, ...part }
    const send = this.options.send ?? ((value: object) => post('/api/links/relay', value))
    this.reporting = this.reporting.then(() => send(report))
  }

  private async carryOut(order: RelayOrder): Promise<void> {
    const outcome = await this.attempt(order).catch((error: Error): PortOutcome => ({ ok: false, error: error.message }))
    this.report({ type: 'done', n: order.n, ...outcome })
  }

  private async attempt(order: RelayOrder): Promise<PortOutcome> {
    if (order.type === 'will') {
      this.will = order
      return { ok: true }
    }
    if (order.type === 'open') {
      await this.letGo()
      const port = this.options.createPort(order.serialBaud)
      const opened = await port.open({
        onBytes: (bytes) => this.report({ type: 'bytes', bytes: toBase64(bytes) }),
        onClosed: (why) => {
          this.port = undefined
          this.options.onState(why)
          this.report({ type: 'closed', why })
        },
      })
      if (opened.ok) this.port = port
      this.options.onState(opened.ok ? `In use: ${port.describe()}.` : opened.error)
      return opened
    }
    if (!this.port) return { ok: false, error: 'The port is not open in the browser.' }
    if (order.type === 'write') return this.port.write(fromBase64(order.bytes))
    if (order.type === 'lines') {
      const { rts, dtr } = order
      const lines = { ...(rts !== undefined && { rts }), ...(dtr !== undefined && { dtr }) }
      return this.port.setLines ? this.port.setLines(lines) : { ok: false, error: `${this.port.describe()} has no key lines.` }
    }
    await this.letGo()
    this.options.onState('Offered to the field computer.')
    return { ok: true }
  }

  private async serverLost(): Promise<void> {
    const { port, will } = this
    if (!port) return
    if (will && will.bytes !== '') await port.write(fromBase64(will.bytes))
    if (will) await port.setLines?.(will.lines)
    await this.letGo()
    this.options.onState('The field computer is out of reach; the port was let go.')
  }

  private async letGo(): Promise<void> {
    const { port } = this
    this.port = undefined
    this.will = undefined
    await port?.close()
  }
}

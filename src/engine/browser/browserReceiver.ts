import { SerialReceiver } from '@/core/links'
import type { StationPort } from '../port/stationPort'
import type { BrowserReceiver } from '../station/state'
import { createWebSerialBytePort, pickPort } from './webSerialPort'

const SHOW_EVERY_MS = 500

export interface BrowserReceiverOptions {
  /** null finds the speed. */
  serialBaud: number | null
  receiverDelayMs: number | null
  /** Takes sentences without checksums. Default false. */
  acceptUnchecked?: boolean
}

/** A GPS receiver on a serial port of this device. One at a time, for the station of this tab. */
export class BrowserReceiverLink {
  private receiver: SerialReceiver | undefined
  private timer: ReturnType<typeof setInterval> | undefined

  constructor(private readonly station: StationPort) {}

  /** Lets the operator pick a port and listens to it. */
  async connect({ serialBaud, receiverDelayMs, acceptUnchecked = false }: BrowserReceiverOptions): Promise<void> {
    const port = await pickPort().catch((error: Error) => {
      this.say({ state: 'problem', detail: `No port could be picked: ${error.message}.` })
      return undefined
    })
    if (!port) return
    await this.disconnect()
    this.receiver = new SerialReceiver({
      source: 'gps:browser',
      path: 'this device',
      serialBaud,
      receiverDelayMs,
      acceptUnchecked,
      createPort: (_path, baud) => createWebSerialBytePort(port, baud),
      monotonicMs: () => performance.now(),
      sleep: (ms) => new Promise((done) => setTimeout(done, ms)),
      onReading: (reading) => void this.station.do({ type: 'clock.reading', reading }),
      onChange: () => undefined,
    })
    this.timer = setInterval(() => this.show(), SHOW_EVERY_MS)
    this.show()
  }

  async disconnect(): Promise<void> {
    clearInterval(this.timer)
    const leaving = this.receiver
    this.receiver = undefined
    if (!leaving) return
    await leaving.stop()
    await this.station.do({ type: 'clock.forget', source: 'gps:browser' })
    this.say({ state: 'off', detail: 'Off.' })
  }

  private show(): void {
    const status = this.receiver?.status()
    if (!status) return
    const gps = status.receivers[0]?.gps
    this.tell({ state: status.state, detail: status.detail, serialBaud: status.serialBaud, gps })
  }

  private say({ state, detail }: { state: 'off' | 'problem'; detail: string }): void {
    this.tell({ state, detail, serialBaud: null, gps: undefined })
  }

  private tell(receiver: BrowserReceiver): void {
    void this.station.do({ type: 'clock.receiver', receiver })
  }
}

const links = new WeakMap<StationPort, BrowserReceiverLink>()

/** The one link of a station: it outlives the screen that opened it. */
export function browserReceiverOf(station: StationPort): BrowserReceiverLink {
  let link = links.get(station)
  if (!link) links.set(station, (link = new BrowserReceiverLink(station)))
  return link
}

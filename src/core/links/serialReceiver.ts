import { GpsReceiver } from '../nmea/gpsReceiver'
import { NmeaStream } from '../nmea/nmeaStream'
import { parseSentence } from '../nmea/sentence'
import type { ClockReading } from '../time/clockReading'
import type { BytePort } from './bytePort'
import type { LinkStatus } from './clockContracts'
import { reduceSpeedSearch, startSpeedSearch, type SpeedSearch } from './speedFinder'

export interface SerialReceiverOptions {
  /** Lasting name of the source of time. */
  source: string
  /** Name of the port for people. */
  path: string
  /** null looks for it. */
  serialBaud: number | null
  receiverDelayMs: number | null
  /** Takes sentences without checksums. Default false. */
  acceptUnchecked?: boolean | undefined
  createPort: (path: string, serialBaud: number) => BytePort
  monotonicMs: () => number
  sleep: (ms: number) => Promise<void>
  onReading: (reading: ClockReading) => void
  onChange: () => void
}

const FIRST_RETRY_MS = 1000
const LONGEST_RETRY_MS = 15_000
const SEARCH_TICK_MS = 250
/** Without a byte for this long the receiver is called silent. */
const SILENT_MS = 5000

/**
 * A receiver on a serial port, of the server or of the browser: finds the speed when it is not told, opens the port, and opens it again
 * with growing patience when it vanishes.
 */
export class SerialReceiver {
  private port: BytePort | undefined
  private receiver: GpsReceiver | undefined
  private search: SpeedSearch | undefined
  private state: LinkStatus['state'] = 'opening'
  private detail = ''
  private serialBaud: number | null
  private retryMs = FIRST_RETRY_MS
  private stopped = false
  private openedMs = 0

  constructor(private readonly options: SerialReceiverOptions) {
    this.serialBaud = options.serialBaud
    this.detail = `Opening ${options.path}.`
    void (this.serialBaud === null ? this.find() : this.listen(this.serialBaud))
  }

  async stop(): Promise<void> {
    this.stopped = true
    await this.port?.close()
  }

  status(): LinkStatus {
    const now = this.options.monotonicMs()
    const gps = this.receiver?.status(now)
    let { state, detail } = this
    if (state === 'hearing' && gps) {
      if (gps.lastBytesMs === null ? now - this.openedMs > SILENT_MS : now - gps.lastBytesMs > SILENT_MS) {
        state = 'waiting'
        detail = `Nothing comes from ${this.options.path}. Is the receiver powered, and is this its port?`
      } else if (gps.accepted === 0) state = 'waiting'
    }
    return {
      link: 'serial',
      state,
      detail,
      serialBaud: this.serialBaud,
      receivers: gps ? [{ source: this.options.source, label: `Receiver on ${this.options.path}`, gps }] : [],
      droppedBytes: 0,
    }
  }

  private say(state: LinkStatus['state'], detail: string): void {
    this.state = state
    this.detail = detail
    this.options.onChange()
  }

  private async find(): Promise<void> {
    const { path, createPort, monotonicMs } = this.options
    this.search = startSpeedSearch(monotonicMs())
    while (this.search.phase === 'listening' && !this.stopped) {
      const { serialBaud } = this.search
      this.say('searching', `Listening to ${path} at ${serialBaud} baud.`)
      const stream = new NmeaStream()
      const port = createPort(path, serialBaud)
      this.port = port
      let lost: string | undefined
      const step = (event: Parameters<typeof reduceSpeedSearch>[1]) => (this.search = reduceSpeedSearch(this.search!, event))
      const opened = await port.open({
        onBytes: (bytes) => {
          let valid = 0
          let garbled = 0
          for (const line of stream.push(bytes)) {
            // A receiver that sends no checksums shows the right speed as well.
            const parsed = parseSentence(line.text, { acceptUnchecked: true })
            if (parsed.ok || parsed.fault === 'unknown') valid++
            else garbled++
          }
          if (this.search?.phase === 'listening' && this.search.serialBaud === serialBaud)
            step({ type: 'heard', valid, garbled, nowMs: monotonicMs() })
        },
        onClosed: (why) => (lost = why),
      })
      if (!opened.ok) return this.retryLater(opened.error)
      // Opening took its time; the listening starts now.
      if (this.search.phase === 'listening') this.search = { ...this.search, sinceMs: monotonicMs() }
      while (!this.stopped && lost === undefined && this.search.phase === 'listening' && this.search.serialBaud === serialBaud) {
        await this.options.sleep(SEARCH_TICK_MS)
        step({ type: 'tick', nowMs: monotonicMs() })
      }
      await port.close()
      if (lost !== undefined) return this.retryLater(lost)
    }
    if (this.stopped) return
    if (this.search.phase === 'found') await this.listen(this.search.serialBaud)
    else if (this.search.phase === 'notFound') this.retryLater(this.search.why)
  }

  private async listen(serialBaud: number): Promise<void> {
    const { path, createPort, monotonicMs, receiverDelayMs, acceptUnchecked = false, onReading, onChange } = this.options
    this.serialBaud = serialBaud
    this.receiver = new GpsReceiver({
      source: this.options.source,
      label: `Receiver on ${path}`,
      serialBaud,
      ...(receiverDelayMs !== null && { receiverDelayMs }),
      acceptUnchecked,
    })
    const port = createPort(path, serialBaud)
    this.port = port
    const opened = await port.open({
      onBytes: (bytes) => {
        for (const reading of this.receiver?.push(bytes, monotonicMs()) ?? []) onReading(reading)
        onChange()
      },
      onClosed: (why) => this.retryLater(why),
    })
    if (this.stopped) {
      await port.close()
      return
    }
    if (!opened.ok) return this.retryLater(opened.error)
    this.retryMs = FIRST_RETRY_MS
    this.openedMs = monotonicMs()
    this.say('hearing', `${port.describe()} is open.`)
  }

  private retryLater(why: string): void {
    if (this.stopped) return
    this.receiver = undefined
    this.say('problem', why)
    const { serialBaud, sleep } = this.options
    const waitMs = this.retryMs
    this.retryMs = Math.min(LONGEST_RETRY_MS, this.retryMs * 2)
    void sleep(waitMs).then(() => {
      if (!this.stopped) void (serialBaud === null ? this.find() : this.listen(serialBaud))
    })
  }
}

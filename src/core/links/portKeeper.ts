import type { BytePort, PortOutcome } from './bytePort'

const FIRST_RETRY_MS = 1000
const LONGEST_RETRY_MS = 15_000

export interface PortKeeperOptions {
  createPort(): BytePort
  sleep(ms: number): Promise<void>
  onBytes(bytes: Uint8Array): void
  onOpen(): void
  /** The port was lost, or could not be opened; it is tried again. */
  onLost(why: string): void
}

/** Holds a port open: opens it again, with growing patience, when it vanishes or is not there yet. */
export class PortKeeper {
  private port: BytePort | undefined
  private open = false
  private tried = false
  private stopped = false
  private retryMs = FIRST_RETRY_MS
  private lastLines: Promise<unknown> = Promise.resolve()
  private hurry: () => void = () => undefined

  constructor(private readonly options: PortKeeperOptions) {
    void this.begin()
  }

  /** Whether the first attempt is still going on. */
  get isOpening(): boolean {
    return !this.tried
  }

  get isOpen(): boolean {
    return this.open
  }

  async write(bytes: Uint8Array): Promise<PortOutcome> {
    return this.port && this.open ? this.port.write(bytes) : { ok: false, error: 'The port is not open.' }
  }

  /** Sets lines, one order after the other: a port that was slow to take one must not take it after the next. */
  async setLines(lines: { rts?: boolean; dtr?: boolean }): Promise<PortOutcome> {
    const { port } = this
    if (!port || !this.open) return { ok: false, error: 'The port is not open.' }
    if (!port.setLines) return { ok: false, error: `${port.describe()} has no key lines.` }
    const set = this.lastLines.then(() => port.setLines!(lines))
    this.lastLines = set.catch(() => undefined)
    return set
  }

  /** Where the port is held by another machine: what that is to do when it loses us. */
  async setLastWill(will: Parameters<NonNullable<BytePort['setLastWill']>>[0]): Promise<void> {
    await this.port?.setLastWill?.(will)
  }

  async stop(): Promise<void> {
    this.stopped = true
    this.open = false
    await this.port?.close()
  }

  private async begin(): Promise<void> {
    while (!this.stopped) {
      const port = this.options.createPort()
      this.port = port
      this.lastLines = Promise.resolve()
      const opened = await port.open({
        onBytes: (bytes) => !this.stopped && this.options.onBytes(bytes),
        onClosed: (why) => {
          if (this.port !== port || this.stopped) return
          this.open = false
          this.options.onLost(why)
          void this.again()
        },
      })
      this.tried = true
      if (this.stopped) {
        await port.close()
        return
      }
      if (opened.ok) {
        this.open = true
        this.retryMs = FIRST_RETRY_MS
        this.options.onOpen()
        return
      }
      this.options.onLost(opened.error)
      await this.pause()
    }
  }

  private async again(): Promise<void> {
    await this.pause()
    await this.begin()
  }

  /** Ends the wait for the next attempt. */
  retryNow(): void {
    this.hurry()
  }

  private async pause(): Promise<void> {
    await Promise.race([this.options.sleep(this.retryMs), new Promise<void>((done) => (this.hurry = done))])
    this.retryMs = Math.min(LONGEST_RETRY_MS, 2 * this.retryMs)
  }
}

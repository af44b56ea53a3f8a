import {
  describePort,
  PortKeeper,
  quietRevival,
  reduceRevival,
  type BytePort,
  type LinkConfig,
  type LinkState,
  type PortChoice,
} from '@/core/links'
import { encodeKiss, frameLine, KISS_COMMANDS, KissDecoder, parameterFrames, parseAx25, textOf } from '@/core/packet'
import type { Done } from '../done'
import { lineState, sleep } from './lineState'
import type { WireLog } from './wireLog'

const KEPT_FRAMES = 50
const LONGEST_TEXT = 300

export interface TncLinkHost {
  monotonicMs: () => number
  utcMs: () => number
  createPort: (port: PortChoice, serialBaud: number) => BytePort
  config: () => LinkConfig['tnc']
  wire: WireLog
  changed: () => void
  /** A whole frame was heard. */
  onFrame: (frame: Uint8Array) => void
}

const modemOf = ({ port, enabled, airBaud }: LinkConfig['tnc']) => ({
  modem: enabled && port?.kind === 'browser' && port.by === 'modem',
  airBaud,
})

/** What was heard this long ago says that the link works now. */
const FRESH_S = 300

/** The line to a TNC in KISS: its parameters, its frames, and its revival when it has fallen out of KISS. */
export class TncLink {
  private port: PortKeeper | undefined
  private detail = 'Off.'
  private bytes = 0
  private decoder = new KissDecoder()
  private revival = quietRevival
  private frames: LinkState['tnc']['frames'] = []
  /** Whether a frame came since the line was opened: what was heard before says nothing of it. */
  private hears = false
  private badFrames = 0

  constructor(private readonly host: TncLinkHost) {}

  /** Opens the line as it is configured now, after closing it as it was. */
  async open(): Promise<void> {
    await this.port?.stop()
    this.port = undefined
    const { enabled, port, serialBaud } = this.host.config()
    this.decoder = new KissDecoder()
    this.revival = quietRevival
    this.bytes = 0
    this.hears = false
    if (!enabled || !port) {
      this.detail = 'Off.'
      return
    }
    this.detail = `Opening ${describePort(port)}.`
    this.port = new PortKeeper({
      createPort: () => this.host.createPort(port, serialBaud),
      sleep,
      onBytes: (bytes) => this.heard(bytes),
      onOpen: () => {
        this.detail = `${describePort(port)} is open; its parameters were sent.`
        // A memory battery may be flat: what the TNC is to know is told at every start.
        this.sendParameters()
        this.host.changed()
      },
      onLost: (why) => {
        this.detail = why
        this.host.changed()
      },
    })
  }

  /** Lets the port go. @param detail why, in words */
  async letGo(detail: string): Promise<void> {
    await this.port?.stop()
    this.detail = detail
  }

  async close(): Promise<void> {
    await this.port?.stop()
  }

  retryNow(): void {
    this.port?.retryNow()
  }

  tick(nowMs: number): void {
    this.revive({ type: 'tick', nowMs })
  }

  /** The last frame heard, in words, while it is fresh: the ladder need not wait for another one. */
  heardBefore(): string | undefined {
    const last = this.frames.at(-1)
    const agoS = last && (this.host.utcMs() - last.utcMs) / 1000
    return agoS === undefined || agoS > FRESH_S ? undefined : `It heard ${last!.line} ${Math.max(0, Math.round(agoS))} s ago`
  }

  state(): LinkState['tnc'] {
    return {
      state: lineState(this.port, this.hears ? 'talking' : this.bytes > 0 ? 'silent' : 'open'),
      detail: this.detail,
      frames: this.frames,
      badFrames: this.badFrames,
      ...modemOf(this.host.config()),
    }
  }

  /** Hands over a frame to be sent. */
  send(frame: Uint8Array): Done {
    if (!this.port || !['open', 'talking', 'silent'].includes(this.state().state))
      return { ok: false, error: `No TNC is there: ${this.detail}` }
    this.write(encodeKiss({ port: 0, command: KISS_COMMANDS.data, data: frame }))
    return { ok: true }
  }

  /** Tells an open TNC its parameters as they are now. */
  tellParameters(): void {
    if (this.port && ['open', 'talking', 'silent'].includes(this.state().state)) this.sendParameters()
  }

  private sendParameters(): void {
    for (const frame of parameterFrames(this.host.config().parameters)) this.write(frame)
  }

  private write(bytes: Uint8Array): void {
    this.host.wire.note('tnc', 'out', bytes)
    void this.port?.write(bytes)
  }

  /** Puts a TNC that shows its prompt, though it should be in KISS, back into it. */
  private revive(event: Parameters<typeof reduceRevival>[1]): void {
    const lines = this.host.config().startLines.filter((line) => line !== '')
    const [state, actions] = reduceRevival(this.revival, event, lines)
    this.revival = state
    for (const action of actions) {
      if (action.type === 'write') this.write(new TextEncoder().encode(action.words))
      else if (action.type === 'parameters') this.sendParameters()
      else this.detail = action.words
    }
    if (actions.length > 0) this.host.changed()
  }

  private heard(bytes: Uint8Array): void {
    const { wire, utcMs, monotonicMs } = this.host
    this.bytes += bytes.length
    wire.note('tnc', 'in', bytes)
    this.revive({ type: 'bytes', bytes, nowMs: monotonicMs() })
    for (const event of this.decoder.push(bytes)) {
      if (event.type === 'bad') this.badFrames++
      if (event.type !== 'frame' || event.frame.command !== 0) continue
      const parsed = parseAx25(event.frame.data)
      if (!parsed.ok) {
        this.badFrames++
        continue
      }
      const { kind, info, source, destination, path } = parsed.value
      const entry = {
        sequence: wire.next(),
        utcMs: utcMs(),
        ...{ from: source, to: destination, via: path },
        line: frameLine(parsed.value),
        kind,
        text: textOf(info).slice(0, LONGEST_TEXT),
      }
      this.hears = true
      this.host.onFrame(event.frame.data)
      this.frames = [...this.frames, entry].slice(-KEPT_FRAMES)
    }
    this.host.changed()
  }
}

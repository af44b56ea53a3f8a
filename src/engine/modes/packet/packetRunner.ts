import { createStore, type StoreApi } from 'zustand/vanilla'
import type { BytePort, BytePortEvents, PortOutcome } from '@/core/links'
import {
  burstSeconds,
  encodeKiss,
  hexOfFrame,
  KISS_COMMANDS,
  KissDecoder,
  monitorLine,
  PACKET_MODEMS,
  parseAx25,
  usualKissParameters,
  type CheckBytes,
  type HeardFrame,
  type KissFrame,
  type KissParameters,
  type PacketModemId,
} from '@/core/packet'
import { ChannelUsage, lookAtChannel, type AccessState } from '@/core/packet/channelAccess'
import type { Grant } from '../../station/air'
import type { AudioBlock } from '../../station/audioBlock'
import { streamOf } from '../../station/audioOutput'
import type { ModeHost, ModeRunner, SourceKind, StartResult } from '../runner'
import { ModemAudio } from './modemAudio'
import type { PacketHeard } from './packetModem.api'
import type { PacketModemClient } from './packetModem.client'
import { initialPacketModemState, type ModemFrame, type PacketModemState } from './state'

/** What packet needs from where it runs. */
export interface PacketResources {
  createModem: () => PacketModemClient
  /** Lends a port to the server, which opens, writes and closes it like any other. @param onState told in words what goes on */
  lend: (createPort: () => BytePort, onState: (words: string) => void) => { stop: () => void }
  /** From 0 up to 1. */
  random: () => number
}

/** What of a session goes into the log. */
export interface LoggedSession {
  call: string
  startedUtcMs: number
  endedUtcMs: number
  lines: readonly { utcMs: number; mine: boolean; text: string }[]
  practice: boolean
}

const USE_WINDOW_MS = 120_000
const KEPT_FRAMES = 40
const MOST_QUEUED = 100
/** One transmission takes frames up to this long; what is more waits for the next. */
const LONGEST_BURST_S = 10
const LONGEST_FRAME_BYTES = 2048
/** Of a line, as much is kept among what was heard. */
const LONGEST_TEXT = 2000
const SPEEDS: Record<number, PacketModemId> = { 300: 'packet300', 1200: 'packet1200', 9600: 'packet9600' }

/**
 * Packet by the sound device: reads frames, and is lent to the server as a KISS port, so that sessions cannot tell it from a TNC. What
 * the server gives it goes out when the channel is free, by the one gate, and only once a person has let it send.
 */
export class PacketRunner implements ModeRunner<PacketModemState> {
  readonly id = 'packet'
  readonly state: StoreApi<PacketModemState> = createStore<PacketModemState>(() => initialPacketModemState)
  private modem: PacketModemClient | undefined
  private audio = new ModemAudio('packet1200')
  private usage = new ChannelUsage(USE_WINDOW_MS)
  private lent: { stop: () => void } | undefined
  private server: BytePortEvents | undefined
  private decoder = new KissDecoder()
  private parameters: KissParameters = usualKissParameters
  private queue: Uint8Array[] = []
  private access: AccessState = {}
  private grant: Grant | undefined
  private isSending = false
  private epoch = 0

  constructor(
    private readonly host: ModeHost,
    private readonly resources: PacketResources,
  ) {}

  restart(what: SourceKind | undefined): void {
    this.epoch++
    this.queue = []
    this.access = {}
    this.grant = undefined
    this.isSending = false
    const { lent, inUse } = this.state.getState()
    this.state.setState(what ? { ...initialPacketModemState, inUse, ...(lent !== undefined && { lent }) } : initialPacketModemState, true)
    this.usage = new ChannelUsage(USE_WINDOW_MS)
    if (what) {
      this.modem ??= this.resources.createModem()
      this.tuneTo(this.speed)
      this.lent ??= this.resources.lend(
        () => this.port(),
        (lentWords) => this.state.setState({ lent: lentWords }),
      )
    } else this.letGo()
  }

  close(): void {
    this.epoch++
    this.letGo()
  }

  private letGo(): void {
    this.lent?.stop()
    this.lent = undefined
    this.server = undefined
    this.modem?.close()
    this.modem = undefined
  }

  busy(): boolean {
    return this.isSending
  }

  settled(): boolean {
    return true
  }

  silence(): void {
    this.grant = undefined
    const cut = this.queue.length
    this.queue = []
    this.access = {}
    if (cut > 0) this.host.notify(`${cut === 1 ? 'One frame' : `${cut} frames`} of packet did not go out any more.`)
    this.show({ allowed: false })
  }

  // Receiving

  /** The speed on the air that the links are set to. */
  private get speed(): PacketModemId {
    return SPEEDS[this.host.station().links?.tnc.airBaud ?? 1200] ?? 'packet1200'
  }

  private tuneTo(speed: PacketModemId): void {
    this.audio = new ModemAudio(speed)
    void this.modem?.restart(speed)
    this.state.setState({ speed, deaf: undefined })
  }

  block(block: AudioBlock): void {
    if (this.speed !== this.state.getState().speed) this.tuneTo(this.speed)
    const deaf = this.audio.problemOf(block)
    if (deaf !== undefined) {
      if (this.state.getState().deaf !== deaf) this.state.setState({ deaf })
      return
    }
    const piece = this.audio.push(block, this.host.station().onAir !== undefined)
    if (piece) void this.read(piece)
  }

  private async read(piece: Float32Array): Promise<void> {
    const { epoch, modem } = this
    if (!modem) return
    try {
      const heard = await modem.push(piece)
      if (epoch === this.epoch) this.take(heard)
    } catch (error) {
      if (epoch === this.epoch) this.host.notify(`What was heard could not be read: ${(error as Error).message}`)
    }
  }

  private take({ frames, carrier, problem: deaf }: PacketHeard): void {
    const nowUtcMs = this.host.clock.nowUtcMs()
    this.usage.look(this.host.clock.monotonicMs(), carrier, frames.length)
    const before = this.state.getState()
    if (frames.length === 0 && carrier === before.carrier && deaf === before.deaf) return
    const told = frames.flatMap((frame) => this.told(frame, nowUtcMs) ?? [])
    const counted = { ...before.counted }
    for (const { mended, corrected } of frames) {
      counted.frames++
      // What is read without its check bytes does not say that it had any.
      if (corrected !== undefined) counted.saved++
      if (mended > 0) counted.mended++
    }
    this.show({
      ...{ carrier, counted, deaf },
      heard: frames.length > 0 ? [...told.reverse(), ...before.heard].slice(0, KEPT_FRAMES) : before.heard,
    })
  }

  /** Tells the server of a frame, has it kept, and makes a line of it. */
  private told({ bytes, ...measures }: HeardFrame, utcMs: number): ModemFrame | undefined {
    this.server?.onBytes(encodeKiss({ port: 0, command: KISS_COMMANDS.data, data: bytes }))
    const parsed = parseAx25(bytes)
    if (!parsed.ok) return undefined
    const { levelDb, snrDb, twistDb, offsetHz, mended, corrected } = measures
    const line = monitorLine(parsed.value)
    void this.host.heard.keep([
      {
        ...{ mode: 'packet', startUtcMs: utcMs - 1000 * (measures.endS - measures.startS), endUtcMs: utcMs },
        ...{ text: line.slice(0, LONGEST_TEXT), call: parsed.value.source, locator: null, snrDb, audioOffsetHz: null },
        details: { hex: hexOfFrame(bytes), levelDb, mended, ...(corrected !== undefined && { corrected }) },
      },
    ])
    return {
      ...{ utcMs, line, levelDb, snrDb, mended },
      ...(twistDb !== undefined && { twistDb }),
      ...(offsetHz !== undefined && { offsetHz }),
      ...(corrected !== undefined && { corrected }),
    }
  }

  // Lent to the server

  private port(): BytePort {
    const closed: PortOutcome = { ok: false, error: 'The modem is not open.' }
    let mine: BytePortEvents | undefined
    return {
      describe: () => `the modem of this device at ${PACKET_MODEMS[this.speed].name}`,
      open: async (events) => {
        if (!this.modem) return { ok: false, error: 'Nothing is listened to: start the microphone or practice.', fault: 'missing' }
        mine = events
        this.server = events
        this.decoder = new KissDecoder()
        this.parameters = usualKissParameters
        this.state.setState({ inUse: true })
        return { ok: true }
      },
      write: async (bytes) => {
        if (this.server !== mine || !mine) return closed
        for (const event of this.decoder.push(bytes)) if (event.type === 'frame') this.ordered(event.frame)
        return { ok: true }
      },
      close: async () => {
        if (this.server !== mine) return
        this.server = undefined
        this.queue = []
        this.show({ inUse: false })
      },
    }
  }

  /** What comes over KISS: frames to send, and how to send them. */
  private ordered({ command, data }: KissFrame): void {
    const value = data[0] ?? 0
    if (command === KISS_COMMANDS.data) this.enqueue(data)
    else if (command === KISS_COMMANDS.txDelay) this.parameters = { ...this.parameters, txDelayMs: 10 * value }
    else if (command === KISS_COMMANDS.persistence) this.parameters = { ...this.parameters, persistence: (value + 1) / 256 }
    else if (command === KISS_COMMANDS.slotTime) this.parameters = { ...this.parameters, slotTimeMs: 10 * value }
    else if (command === KISS_COMMANDS.txTail) this.parameters = { ...this.parameters, txTailMs: 10 * value }
    else if (command === KISS_COMMANDS.fullDuplex) this.parameters = { ...this.parameters, fullDuplex: value !== 0 }
  }

  private enqueue(frame: Uint8Array): void {
    if (frame.length > LONGEST_FRAME_BYTES || this.queue.length >= MOST_QUEUED) return
    if (!this.grant) {
      // A link may ask for more than a person has begun here: after a Silence, or when the page was loaded anew.
      if (this.state.getState().held === undefined)
        this.show({ held: 'A session wants to send, and gives up after some tries. Let this device send for it.' })
      return
    }
    this.queue.push(frame)
    this.show({})
  }

  // Sending

  /** A person lets the modem send for sessions. */
  begin(): StartResult {
    const refusal = this.host.whyNot()
    if (refusal) return { ok: false, ...refusal }
    this.grant = this.host.begin('packet')
    this.show({ allowed: true, held: undefined })
    return { ok: true }
  }

  /** A session is put into the log as a contact, because a person asks for it. */
  log({ call, startedUtcMs, endedUtcMs, lines, practice }: LoggedSession): StartResult {
    const { clock, contacts, station } = this.host
    // With the practice TNC nothing else here is practice, and the log would take it for real.
    if (practice && station().source.kind !== 'practice')
      return { ok: false, why: 'A session with the practice TNC is practice, and does not go into the log.', need: 'source' }
    // The server dates by real time, a practice band has one of its own.
    const aheadMs = clock.nowUtcMs() - clock.realUtcAt(clock.nowUtcMs())
    const evidence = lines.map(({ utcMs, mine, text }) => ({
      utcMs: utcMs + aheadMs,
      direction: mine ? ('sent' as const) : ('heard' as const),
      text,
    }))
    contacts.made({ mode: 'packet', call, startedUtcMs: startedUtcMs + aheadMs, endedUtcMs: endedUtcMs + aheadMs, evidence })
    return { ok: true }
  }

  tick(): void {
    const nowMs = this.host.clock.monotonicMs()
    const { carrier } = this.state.getState()
    const busy = carrier || this.host.station().onAir !== undefined
    const { state, begin } = lookAtChannel(
      this.access,
      { nowMs, waits: this.queue.length > 0 && !this.isSending, busy, draw: this.resources.random() },
      this.parameters,
    )
    this.access = state
    if (begin) void this.send()
  }

  private async send(): Promise<void> {
    const { epoch, grant } = this
    if (!grant) return
    const frames = this.nextBurst()
    const options = this.burstOptions
    const speed = this.state.getState().speed
    this.isSending = true
    this.show({})
    const begunMs = this.host.clock.monotonicMs()
    const outcome = await this.host.air.send(
      {
        ...{ mode: 'packet', what: `Packet, ${frames.length === 1 ? 'one frame' : `${frames.length} frames`}`, start: 'now' },
        length: { ms: Math.ceil(1000 * burstSeconds(speed, frames, options)) + 5 },
        open: (sampleRateHz) => {
          try {
            const amplitude = this.host.profile().transmitLevel
            return { ok: true, stream: streamOf(PACKET_MODEMS[speed].modulate(frames, { ...options, sampleRateHz, amplitude })) }
          } catch (error) {
            return { ok: false, error: (error as Error).message }
          }
        },
      },
      grant,
    )
    if (epoch !== this.epoch) return
    this.isSending = false
    if (!outcome.sent) {
      this.queue = []
      this.show({ held: outcome.why })
      return
    }
    this.usage.sent(begunMs, this.host.clock.monotonicMs())
    this.show({})
  }

  private get burstOptions() {
    const { txDelayMs, txTailMs } = this.parameters
    const { correction } = this.host.profile().modes.packet
    return { txDelayMs, txTailMs, ...(correction !== 0 && { correction: correction as CheckBytes }) }
  }

  /** Frames of the next transmission: one at least. */
  private nextBurst(): Uint8Array[] {
    const speed = this.state.getState().speed
    let count = 1
    while (count < this.queue.length && burstSeconds(speed, this.queue.slice(0, count + 1), this.burstOptions) < LONGEST_BURST_S) count++
    return this.queue.splice(0, count)
  }

  private show(change: Partial<PacketModemState>): void {
    this.state.setState({ ...change, waiting: this.queue.length, use: this.usage.at(this.host.clock.monotonicMs()) })
  }
}

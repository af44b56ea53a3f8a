import type { Random } from '@/core/dsp'

/** How a station on the channel sends; times in milliseconds. */
export interface ChannelSender {
  txDelayMs: number
  txTailMs: number
  slotTimeMs: number
  /** Share of free slots in which it begins, above 0 to 1. */
  persistence: number
  fullDuplex: boolean
}

export const usualSender: ChannelSender = { txDelayMs: 300, txTailMs: 20, slotTimeMs: 100, persistence: 0.25, fullDuplex: false }

export interface ChannelOptions {
  airBaud: number
  /** Share of frames that a hearer loses by chance. */
  loss: number
  random: Random
  /** Whether one hears another; all hear all where nothing is said. */
  hears?: (hearer: string, sender: string) => boolean
}

/** What can be wrong with a channel. */
export const CHANNEL_FAULTS = {
  nobody: 'nobody answers',
  shortKeyUp: 'receivers need 400 ms of key-up before they hear',
  deafDigipeater: 'digipeaters hear nothing',
  squelch: 'squelches cut the first 200 ms',
  busy: 'a carrier is on without end',
  overload: 'a strong neighbour spoils half of all frames',
  twisted: 'the higher tone comes 9 dB weaker',
} as const
export const CHANNEL_FAULT_NAMES = Object.keys(CHANNEL_FAULTS) as [ChannelFault, ...ChannelFault[]]
export type ChannelFault = keyof typeof CHANNEL_FAULTS

/** A frame that one station heard another one send. */
export interface ChannelHearing {
  atMs: number
  hearer: string
  sender: string
  frame: Uint8Array
}

/** Before it is noticed that somebody has begun, another one may begin as well. */
const NOTICED_MS = 30
/** A transmission lasts so long at most: TNCs cut what is longer. */
const LONGEST_MS = 15_000
const MOST_QUEUED = 400
const SHORT_KEY_UP_MS = 400
const SQUELCH_MS = 200
const OVERLOAD_SHARE = 0.5
/** What was on the air is remembered for so long: who is not simulated tells later what was said. */
const KEPT_MS = 20_000
/** Flags around a frame and stuffed zeros. */
const FRAME_EXTRA_BYTES = 3
const STUFFING = 1 + 1 / 62

/** One transmission, with the frames in it. */
export interface ChannelTransmission {
  sender: string
  startMs: number
  endMs: number
  frames: { frame: Uint8Array; startMs: number; endMs: number }[]
  /** How long it had keyed before the first frame. */
  keyUpMs: number
}
interface ChannelStation {
  name: string
  sender: ChannelSender
  queue: Uint8Array[]
  /** When the next slot is to be drawn for; nothing while nothing waits. */
  slotMs: number | undefined
}

/** A half-duplex channel that stations share: carrier sense, key-up, collisions, loss, stations that do not hear each other. */
export class PacketChannel {
  private readonly stations = new Map<string, ChannelStation>()
  /** Those on the air and those that may still matter to them. */
  private transmissions: ChannelTransmission[] = []
  private nowMs = 0
  private hearings: ChannelHearing[] = []
  /** Milliseconds for which somebody sent, and frames that two spoiled. */
  readonly counters = { busyMs: 0, frames: 0, collisions: 0, lost: 0 }

  constructor(
    private readonly options: ChannelOptions,
    private readonly faults: () => ReadonlySet<ChannelFault> = () => new Set(),
    /** Told of each transmission as it begins. */
    private readonly onBegin: (transmission: ChannelTransmission) => void = () => undefined,
  ) {}

  /** Adds a station; one that is there keeps what it has to send. */
  join(name: string, sender: ChannelSender = usualSender): void {
    const station = this.stations.get(name)
    if (station) station.sender = sender
    else this.stations.set(name, { name, sender, queue: [], slotMs: undefined })
  }

  leave(name: string): void {
    this.stations.delete(name)
  }

  /** Gives a frame to a station to send. What is too much for its memory is lost. */
  send(name: string, frame: Uint8Array): void {
    const station = this.stations.get(name)
    if (!station || station.queue.length >= MOST_QUEUED) return
    station.queue.push(frame)
    station.slotMs ??= this.nowMs
  }

  /** Drops what waits. What is on the air already goes on. @returns how many frames */
  drop(name: string): number {
    return this.stations.get(name)?.queue.splice(0).length ?? 0
  }

  /** Whether a station hears somebody send now. */
  isBusy(name: string): boolean {
    if (this.faults().has('busy')) return true
    return this.transmissions.some(
      ({ sender, startMs, endMs }) =>
        sender !== name && endMs > this.nowMs && startMs + NOTICED_MS <= this.nowMs && this.hears(name, sender),
    )
  }

  /** When something happens next. */
  get nextMs(): number {
    const slots = [...this.stations.values()].map(({ slotMs }) => slotMs ?? Infinity)
    const ends = this.transmissions
      .flatMap(({ frames, endMs }) => [...frames.map((one) => one.endMs), endMs])
      .filter((ms) => ms > this.nowMs)
    return Math.min(Infinity, ...slots, ...ends)
  }

  /** Goes on to an instant. @returns what was heard until then, in order */
  advance(toMs: number): ChannelHearing[] {
    while (this.nextMs <= toMs) {
      this.nowMs = Math.max(this.nowMs, this.nextMs)
      this.hearWhatEnds()
      for (const station of this.stations.values()) if (station.slotMs !== undefined && station.slotMs <= this.nowMs) this.draw(station)
    }
    this.nowMs = Math.max(this.nowMs, toMs)
    const out = this.hearings
    this.hearings = []
    return out
  }

  private hears(hearer: string, sender: string): boolean {
    return this.options.hears?.(hearer, sender) ?? true
  }

  private isSending(name: string): boolean {
    return this.transmissions.some(({ sender, startMs, endMs }) => sender === name && startMs <= this.nowMs && endMs > this.nowMs)
  }

  /** A slot of a station that has something to send. */
  private draw(station: ChannelStation): void {
    const { sender, queue, name } = station
    if (queue.length === 0) {
      station.slotMs = undefined
      return
    }
    const waits = this.isSending(name) || (!sender.fullDuplex && (this.isBusy(name) || this.options.random() >= sender.persistence))
    if (waits) station.slotMs = this.nowMs + Math.max(10, sender.slotTimeMs)
    else this.begin(station)
  }

  private begin(station: ChannelStation): void {
    const { sender, queue, name } = station
    let endMs = this.nowMs + sender.txDelayMs
    const frames: ChannelTransmission['frames'] = []
    while (queue.length > 0 && endMs - this.nowMs < LONGEST_MS) {
      const frame = queue.shift()!
      const startMs = endMs
      endMs += this.frameMs(frame.length)
      frames.push({ frame, startMs, endMs })
    }
    endMs += sender.txTailMs
    const transmission = { sender: name, startMs: this.nowMs, endMs, frames, keyUpMs: sender.txDelayMs }
    this.transmissions.push(transmission)
    this.onBegin(transmission)
    this.counters.busyMs += endMs - this.nowMs
    this.counters.frames += frames.length
    station.slotMs = queue.length > 0 ? endMs : undefined
  }

  /**
   * Somebody keys who is not simulated: the others hear it from its begin on. What it says is told by `said`.
   * @param endMs when it is going to end
   */
  keyed(name: string, startMs: number, endMs: number): void {
    this.transmissions.push({ sender: name, startMs, endMs, frames: [], keyUpMs: 0 })
    this.counters.busyMs += endMs - startMs
  }

  /** What was in the transmission that somebody began at a time, once it has ended. */
  said(name: string, startMs: number, endMs: number, frames: ChannelTransmission['frames']): void {
    let transmission = this.transmissions.find((one) => one.sender === name && one.startMs === startMs)
    if (!transmission) this.transmissions.push((transmission = { sender: name, startMs, endMs, frames, keyUpMs: 0 }))
    transmission.endMs = Math.min(endMs, this.nowMs)
    for (const frame of frames) this.deliver(transmission, frame)
  }

  private frameMs(bytes: number): number {
    return ((bytes + FRAME_EXTRA_BYTES) * 8 * STUFFING * 1000) / this.options.airBaud
  }

  private hearWhatEnds(): void {
    for (const transmission of this.transmissions)
      for (const one of transmission.frames) if (one.endMs === this.nowMs) this.deliver(transmission, one)
    const oldest = Math.min(this.nowMs, ...this.transmissions.filter(({ endMs }) => endMs > this.nowMs).map(({ startMs }) => startMs))
    this.transmissions = this.transmissions.filter(({ endMs }) => endMs > oldest - KEPT_MS)
  }

  private deliver(transmission: ChannelTransmission, { frame, startMs, endMs }: ChannelTransmission['frames'][number]): void {
    const faults = this.faults()
    const needsMs = Math.max(faults.has('shortKeyUp') ? SHORT_KEY_UP_MS : 0, faults.has('squelch') ? SQUELCH_MS : 0)
    for (const hearer of this.stations.keys()) {
      const { sender } = transmission
      if (hearer === sender || !this.hears(hearer, sender)) continue
      const spoiled = this.transmissions.some(
        (other) =>
          other !== transmission &&
          other.startMs < endMs &&
          other.endMs > startMs &&
          (other.sender === hearer || this.hears(hearer, other.sender)),
      )
      if (spoiled) this.counters.collisions++
      const unheard = startMs - transmission.startMs < needsMs || (faults.has('overload') && this.options.random() < OVERLOAD_SHARE)
      const lost = this.options.random() < this.options.loss
      if (lost) this.counters.lost++
      if (!spoiled && !unheard && !lost) this.hearings.push({ atMs: this.nowMs, hearer, sender, frame })
    }
  }
}

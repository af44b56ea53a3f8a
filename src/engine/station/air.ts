import type { ModeId } from '@/core/modes/modeId'
import { MODES } from '@/core/modes'
import {
  createGate,
  reduceGate,
  type GateEffect,
  type GateEvent,
  type GateNeed,
  type GateState,
  type KeyedTransmission,
} from '@/core/transmit'
import type { AudioOutput, PlayRequest, SampleStream } from './audioOutput'
import type { Keyer } from './keyer'
import type { StationClock } from './stationClock'

/** In whose name something is sent. */
export interface Authority {
  ownCall: string
  licenceConfirmed: boolean
  /** Where no SWR meter is read. */
  band?: string
}

/** Audio ready to be played, or why there is none. */
export type OpenedStream = { ok: true; stream: SampleStream } | { ok: false; error: string }

/** What a mode wants to send. */
export interface Transmission {
  mode: ModeId
  /** What it is, in words. */
  what: string
  /** An instant of UTC, with the latest at which it is still worth beginning: what is late is cut from the front. Or as soon as may be. */
  start: { utcMs: number; latestMs: number } | 'now'
  /** Known beforehand, or open: then it ends when its stream does, and after this long at the latest. */
  length: { ms: number } | { atMostMs: number }
  /** Makes its audio. An open one is pulled a fraction of a second ahead. */
  open(sampleRateHz: number): OpenedStream | Promise<OpenedStream>
  /** A test of levels: shorter, with a rest after it, and meant for nobody. */
  test?: boolean
}

/** What a person has begun: everything that goes out stands on one, and a Silence ends them all. */
export interface Grant {
  readonly what: string
  readonly silences: number
}

export type Outcome =
  { sent: true; complete: boolean; startUtcMs: number } | { sent: false; why: string; need: GateNeed | 'message' | 'late' }

/** What is on the air now. */
export interface OnAir {
  mode: ModeId
  text: string
  startUtcMs: number
  /** When it ends; of an open one, when it must have ended. */
  endUtcMs: number
  open: boolean
}

export interface AirHost {
  clock: StationClock
  monotonicMs: () => number
  output: () => AudioOutput | undefined
  authority: () => Authority
  /** What keys the radio; without one it keys itself, by VOX. */
  keyer?: () => Keyer | undefined
  newId: () => string
  onChange: (gate: GateState, onAir: OnAir | undefined) => void
}

/** What begins now begins this long after it was asked for: the sound device needs some of it. */
const AHEAD_MS = 200

/** The only way out, for every mode: it runs the transmit gate, keys the radio and starts the audio at its instant. */
export class Air {
  private gate: GateState
  private onAir: OnAir | undefined
  private finish: ((complete: boolean) => void) | undefined
  private keying: { keyer: Keyer; timer: ReturnType<typeof setTimeout> } | undefined
  /** Counts silences, also those of the watchdog: what was begun before one, and audio that was still being made, never goes out. */
  private silences = 0

  constructor(private readonly host: AirHost) {
    this.gate = createGate(host.monotonicMs())
  }

  get state(): GateState {
    return this.gate
  }

  event(event: GateEvent): GateEffect[] {
    const [next, effects] = reduceGate(this.gate, event)
    this.gate = next
    for (const effect of effects) {
      if (effect.type !== 'unkey') continue
      this.silences++
      this.stopAudio()
    }
    this.host.onChange(this.gate, this.onAir)
    return effects
  }

  /** A person begins something. */
  begin(what: string): Grant {
    this.event({ type: 'started', nowMs: this.host.monotonicMs() })
    return { what, silences: this.silences }
  }

  /** Silent at once, whatever is going on; nothing goes out again until a person begins something. */
  silence(why: string): void {
    this.stopAudio()
    this.event({ type: 'silence', nowMs: this.host.monotonicMs(), why })
  }

  /** Sends what was granted. Resolves when it has ended, or at once when it is refused. */
  async send(transmission: Transmission, grant: Grant): Promise<Outcome> {
    const output = this.host.output()
    if (!output) return { sent: false, why: 'There is no output for transmitted audio.', need: 'start' }
    const opened = await transmission.open(output.sampleRateHz)
    if (!opened.ok) return { sent: false, why: opened.error, need: 'message' }
    if (grant.silences !== this.silences) return { sent: false, why: 'Silenced.', need: 'start' }
    const { start } = transmission
    if (start !== 'now' && this.host.clock.nowUtcMs() > start.latestMs)
      return { sent: false, why: 'It is too late in this slot to begin.', need: 'late' }
    const id = this.host.newId()
    const times = this.timesOf(transmission)
    const keyed = this.request(transmission, id, times)
    if ('need' in keyed) return { sent: false, ...keyed }
    const open = 'atMostMs' in transmission.length
    const begunUtcMs = Math.max(this.host.clock.nowUtcMs(), times.startUtcMs)
    const endUtcMs = begunUtcMs + (keyed.endMs - keyed.startMs)
    this.onAir = { mode: transmission.mode, text: transmission.what, startUtcMs: begunUtcMs, endUtcMs, open }
    const complete = await this.play(
      output,
      {
        ...{ id, what: transmission.what, stream: opened.stream, sampleRateHz: output.sampleRateHz, startUtcMs: times.startUtcMs },
        ...('ms' in transmission.length && { length: Math.round((transmission.length.ms / 1000) * output.sampleRateHz) }),
        ...(transmission.test && { test: true }),
      },
      keyed.endMs - keyed.startMs,
    )
    return { sent: true, complete, startUtcMs: times.startUtcMs }
  }

  /** When it begins, on both clocks, and how much of it is still to come then. */
  private timesOf({ start, length }: Transmission): { startUtcMs: number; startMs: number; lengthMs: number } {
    const { clock, monotonicMs } = this.host
    const nowMs = monotonicMs()
    const wholeMs = 'ms' in length ? length.ms : length.atMostMs
    if (start === 'now') {
      const aheadMs = Math.max(AHEAD_MS, (this.host.keyer?.()?.leadMs ?? 0) + 50)
      return { startUtcMs: clock.nowUtcMs() + aheadMs, startMs: nowMs + aheadMs / clock.pace, lengthMs: wholeMs }
    }
    const lateMs = Math.max(0, clock.nowUtcMs() - start.utcMs)
    const startMs = Math.max(nowMs, clock.pace === 1 ? clock.monotonicAtUtc(start.utcMs) : nowMs)
    return { startUtcMs: start.utcMs, startMs, lengthMs: wholeMs - lateMs }
  }

  /** Asks the gate. @returns what it let through, or why it did not */
  private request(
    { mode, what, length, test }: Transmission,
    id: string,
    { startMs, lengthMs }: { startMs: number; lengthMs: number },
  ): KeyedTransmission | { why: string; need: GateNeed } {
    const effects = this.event({
      type: 'request',
      nowMs: this.host.monotonicMs(),
      transmission: {
        ...{ id, what, startMs, endMs: startMs + lengthMs, longestMs: MODES[mode].longestMs },
        ...(test && { test }),
        ...('atMostMs' in length && { open: true }),
      },
      ...this.host.authority(),
    })
    for (const effect of effects) {
      if (effect.type === 'refuse') return { why: effect.why, need: effect.need }
      if (effect.type === 'key') return effect.transmission
    }
    throw new Error('the gate said nothing')
  }

  /** Plays what the gate let through. Resolves once it has ended. */
  private play(output: AudioOutput, request: PlayRequest, longestMs: number): Promise<boolean> {
    return new Promise((resolve) => {
      let done = false
      this.finish = (complete) => {
        if (done) return
        done = true
        this.finish = undefined
        this.onAir = undefined
        if (complete) this.unkeyAfterTail()
        this.event({ type: 'ended', nowMs: this.host.monotonicMs(), id: request.id })
        resolve(complete)
      }
      this.host.onChange(this.gate, this.onAir)
      this.key(request, longestMs)
      output.play(request, (complete) => this.finish?.(complete))
    })
  }

  /** Keys the radio shortly before the audio begins. A radio that cannot be keyed ends the transmission. */
  private key({ id, startUtcMs }: PlayRequest, longestMs: number): void {
    const keyer = this.host.keyer?.()
    if (!keyer) return
    this.dropKey()
    const waitMs = Math.max(0, this.host.clock.monotonicAtUtc(startUtcMs) - keyer.leadMs - this.host.monotonicMs())
    const timer = setTimeout(() => {
      void keyer.key(id, longestMs).then((done) => {
        if (!done.ok && this.gate.keyed?.id === id) this.silence(done.error)
      })
    }, waitMs)
    this.keying = { keyer, timer }
  }

  private unkeyAfterTail(): void {
    const { keying } = this
    if (!keying) return
    clearTimeout(keying.timer)
    keying.timer = setTimeout(() => {
      if (this.keying === keying) this.dropKey()
    }, keying.keyer.tailMs)
  }

  private dropKey(): void {
    const { keying } = this
    if (!keying) return
    this.keying = undefined
    clearTimeout(keying.timer)
    keying.keyer.unkey()
  }

  private stopAudio(): void {
    this.host.output()?.stop()
    if (this.keying) this.dropKey()
    // Silence must not depend on what is believed to be keyed.
    else this.host.keyer?.()?.unkey()
    this.finish?.(false)
  }
}

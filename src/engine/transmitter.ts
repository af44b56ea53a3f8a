import { NOMINAL_START_S, SLOT_MS, TRANSMISSION_S, type ModulateOptions, type EncodeResult } from '@/core/ft8'
import { createGate, reduceGate, type GateEffect, type GateEvent, type GateNeed, type GateState } from '@/core/transmit'
import type { AudioOutput, PlayRequest } from './audioOutput'
import type { Keyer } from './keyer'
import type { StationClock } from './stationClock'

/** In whose name something is sent. */
export interface Authority {
  ownCall: string
  licenceConfirmed: boolean
  /** Where no SWR meter is read. */
  band?: string
}

export interface TransmitRequest extends Authority {
  slotIndex: number
  text: string
  audioOffsetHz: number
  amplitude: number
  voxLeadInMs: number
}

export type TransmitOutcome = { sent: true; complete: boolean } | { sent: false; why: string; need: GateNeed | 'message' | 'late' }

/** What is on the air now. */
export interface OnAir {
  text: string
  slotIndex: number
  startUtcMs: number
  endUtcMs: number
}

/** Audio of a test, ready to be sent. */
export interface TestRequest extends Authority {
  /** What it is, in words. */
  what: string
  makeSamples: (sampleRateHz: number) => Float32Array
}

export type TestOutcome = { sent: true; complete: boolean; startUtcMs: number } | { sent: false; why: string; need: GateNeed }

export interface TransmitterHost {
  clock: StationClock
  monotonicMs: () => number
  encode: (text: string, options: ModulateOptions) => Promise<EncodeResult>
  output: () => AudioOutput | undefined
  /** What keys the radio; without one it keys itself, by VOX. */
  keyer?: () => Keyer | undefined
  newId: () => string
  onChange: (gate: GateState, onAir: OnAir | undefined) => void
}

/** After this much of a transmission has been missed it is not worth starting: too few symbols would be left to copy. */
const LATEST_START_MS = 4000

/** A test begins this long after it was asked for: the sound device needs some of it. */
const TEST_AHEAD_MS = 200

/** The one way to the antenna. It runs the transmit gate, makes the audio and starts it at its instant. */
export class Transmitter {
  private gate: GateState
  private onAir: OnAir | undefined
  private finish: ((complete: boolean) => void) | undefined
  private keying: { keyer: Keyer; timer: ReturnType<typeof setTimeout> } | undefined
  /** Counts silences: audio that was still being made when one fell is never started. */
  private silences = 0

  constructor(private readonly host: TransmitterHost) {
    this.gate = createGate(host.monotonicMs())
  }

  get state(): GateState {
    return this.gate
  }

  send(event: GateEvent): GateEffect[] {
    const [next, effects] = reduceGate(this.gate, event)
    this.gate = next
    for (const effect of effects) if (effect.type === 'unkey') this.stopAudio()
    this.host.onChange(this.gate, this.onAir)
    return effects
  }

  /** Silent at once, whatever is going on; nothing goes out again until a person starts something. */
  silence(why: string): void {
    this.silences++
    this.stopAudio()
    this.send({ type: 'silence', nowMs: this.host.monotonicMs(), why })
  }

  /** Sends one message in a slot. Resolves when it has ended, or at once when it is refused. */
  async transmit(request: TransmitRequest): Promise<TransmitOutcome> {
    const { clock, monotonicMs, encode } = this.host
    const output = this.host.output()
    if (!output) return { sent: false, why: 'There is no output for transmitted audio.', need: 'start' }
    const leadS = request.voxLeadInMs / 1000
    const startUtcMs = request.slotIndex * SLOT_MS + (NOMINAL_START_S - leadS) * 1000
    const endUtcMs = request.slotIndex * SLOT_MS + (NOMINAL_START_S + TRANSMISSION_S) * 1000
    const silences = this.silences
    const encoded = await encode(request.text, {
      sampleRateHz: output.sampleRateHz,
      audioOffsetHz: request.audioOffsetHz,
      amplitude: request.amplitude,
      leadS,
    })
    if (!encoded.ok) return { sent: false, why: encoded.error, need: 'message' }
    if (silences !== this.silences) return { sent: false, why: 'Silenced.', need: 'start' }
    if (leadS > 0) addLeadInTone(encoded.samples, output.sampleRateHz, leadS, request)
    const now = clock.nowUtcMs()
    if (now > startUtcMs + LATEST_START_MS) return { sent: false, why: 'It is too late in this slot to begin.', need: 'late' }
    const nowMs = monotonicMs()
    const startMs = Math.max(nowMs, clock.pace === 1 ? clock.monotonicAtUtc(startUtcMs) : nowMs)
    const id = this.host.newId()
    const transmission = { id, what: request.text, startMs, endMs: startMs + (endUtcMs - Math.max(now, startUtcMs)) }
    const effects = this.send({
      type: 'request',
      nowMs,
      transmission,
      ownCall: request.ownCall,
      licenceConfirmed: request.licenceConfirmed,
      ...(request.band !== undefined && { band: request.band }),
    })
    const refusal = effects.find((effect) => effect.type === 'refuse')
    if (refusal) return { sent: false, why: refusal.why, need: refusal.need }
    this.onAir = { text: encoded.message.text, slotIndex: request.slotIndex, startUtcMs: Math.max(now, startUtcMs), endUtcMs }
    const complete = await this.play(output, {
      id,
      text: request.text,
      samples: encoded.samples,
      sampleRateHz: output.sampleRateHz,
      startUtcMs,
      audioOffsetHz: request.audioOffsetHz,
      slotIndex: request.slotIndex,
    })
    return { sent: true, complete }
  }

  /** Sends the audio of a test at once, through the same gate. Resolves when it has ended, or at once when it is refused. */
  async test({ what, makeSamples, ...who }: TestRequest): Promise<TestOutcome> {
    const { clock, monotonicMs } = this.host
    const output = this.host.output()
    if (!output) return { sent: false, why: 'There is no output for transmitted audio.', need: 'start' }
    const samples = makeSamples(output.sampleRateHz)
    const nowMs = monotonicMs()
    const aheadMs = Math.max(TEST_AHEAD_MS, (this.host.keyer?.()?.leadMs ?? 0) + 50)
    const startUtcMs = clock.nowUtcMs() + aheadMs
    const lengthMs = (samples.length / output.sampleRateHz) * 1000
    const startMs = nowMs + aheadMs / clock.pace
    const id = this.host.newId()
    const transmission = { id, what, startMs, endMs: startMs + lengthMs, test: true }
    const refusal = this.send({ type: 'request', nowMs, transmission, ...who }).find((e) => e.type === 'refuse')
    if (refusal) return { sent: false, why: refusal.why, need: refusal.need }
    const endUtcMs = startUtcMs + lengthMs
    const slotIndex = Math.floor(startUtcMs / SLOT_MS)
    this.onAir = { text: what, slotIndex, startUtcMs, endUtcMs }
    const request = { id, text: what, samples, sampleRateHz: output.sampleRateHz, startUtcMs, audioOffsetHz: 1500, slotIndex, test: true }
    const complete = await this.play(output, request)
    return { sent: true, complete, startUtcMs }
  }

  /** Plays what the gate let through. Resolves once it has ended. */
  private play(output: AudioOutput, request: PlayRequest): Promise<boolean> {
    return new Promise((resolve) => {
      let done = false
      this.finish = (complete) => {
        if (done) return
        done = true
        this.finish = undefined
        this.onAir = undefined
        if (complete) this.unkeyAfterTail()
        this.send({ type: 'ended', nowMs: this.host.monotonicMs(), id: request.id })
        resolve(complete)
      }
      this.host.onChange(this.gate, this.onAir)
      this.key(request)
      output.play(request, (complete) => this.finish?.(complete))
    })
  }

  /** Keys the radio shortly before the audio begins. A radio that cannot be keyed ends the transmission. */
  private key({ id, startUtcMs }: PlayRequest): void {
    const keyer = this.host.keyer?.()
    if (!keyer) return
    this.dropKey()
    const waitMs = Math.max(0, this.host.clock.monotonicAtUtc(startUtcMs) - keyer.leadMs - this.host.monotonicMs())
    const timer = setTimeout(() => {
      void keyer.key(id).then((done) => {
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

/** A VOX trips on sound, not on silence: the lead-in carries the lowest tone, rising softly. */
function addLeadInTone(samples: Float32Array, sampleRateHz: number, leadS: number, { audioOffsetHz, amplitude }: TransmitRequest): void {
  const count = Math.min(samples.length, Math.round(leadS * sampleRateHz))
  const rise = Math.max(1, Math.round(0.02 * sampleRateHz))
  for (let i = 0; i < count; i++) {
    const edge = Math.min(i, count - 1 - i)
    const shape = edge >= rise ? 1 : 0.5 * (1 - Math.cos((Math.PI * edge) / rise))
    samples[i] = amplitude * shape * Math.sin((2 * Math.PI * audioOffsetHz * i) / sampleRateHz)
  }
}

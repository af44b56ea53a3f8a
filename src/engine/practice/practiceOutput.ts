import { SLOT_MS } from '@/core/ft8'
import { monitorPracticeTransmitter } from '@/standins'
import type { AudioOutput, PlayRequest } from '../audioOutput'
import type { StationClock } from '../stationClock'
import type { PracticeClient } from './practice.client'

/** A transmission up to this early belongs to the slot that is about to begin. */
const EARLIEST_MS = 2500

/**
 * The antenna of the practice band: takes the very samples that would go to the sound device, and hands those that were
 * played before the end or a Silence to the simulated band, which decodes them. With `audible` they are heard as well.
 */
export class PracticeOutput implements AudioOutput {
  readonly sampleRateHz = 48_000
  private playing: { request: PlayRequest; onEnded: (complete: boolean) => void; timer: ReturnType<typeof setInterval> } | undefined

  private heard: Float32Array | undefined

  constructor(
    private readonly clock: StationClock,
    private readonly band: PracticeClient,
    private readonly audible: AudioOutput | undefined,
    private readonly onCopied: (text: string | undefined) => void,
  ) {}

  play(request: PlayRequest, onEnded: (complete: boolean) => void): void {
    this.stop()
    const endUtcMs = request.startUtcMs + (request.samples.length / request.sampleRateHz) * 1000
    const lateMs = Math.max(0, this.clock.nowUtcMs() - request.startUtcMs)
    const cut = Math.round((lateMs / 1000) * request.sampleRateHz)
    const heard = { ...request, samples: request.samples.slice(cut), startUtcMs: request.startUtcMs + lateMs }
    if (this.clock.pace === 1) this.audible?.play({ ...request }, () => undefined)
    const timer = setInterval(() => {
      if (this.clock.nowUtcMs() >= endUtcMs) this.finish(true)
    }, 10)
    this.playing = { request: heard, onEnded, timer }
  }

  /** Whether a transmission is on its way to the band. */
  get busy(): boolean {
    return this.playing !== undefined
  }

  monitor(): Float32Array | undefined {
    return this.heard
  }

  stop(): void {
    this.audible?.stop()
    this.finish(false)
  }

  private finish(complete: boolean): void {
    if (!this.playing) return
    const { request, onEnded, timer } = this.playing
    this.playing = undefined
    clearInterval(timer)
    const playedS = Math.max(0, (this.clock.nowUtcMs() - request.startUtcMs) / 1000)
    const samples = complete ? request.samples : request.samples.slice(0, Math.round(playedS * request.sampleRateHz))
    // The band lives by true time: with a clock that is off, the transmission reaches it early or late.
    const startWorldMs = this.clock.worldAtUtc(request.startUtcMs)
    const slotIndex = Math.floor((startWorldMs + EARLIEST_MS) / SLOT_MS)
    if (request.test) this.heard = monitorPracticeTransmitter(samples, request.sampleRateHz)
    onEnded(complete)
    if (samples.length === 0 || request.test) return
    this.clock.hold('band listens')
    this.band
      .operatorSent(slotIndex, {
        samples,
        sampleRateHz: request.sampleRateHz,
        startS: (startWorldMs - slotIndex * SLOT_MS) / 1000,
      })
      .then(this.onCopied)
      .catch(() => this.onCopied(undefined))
      .finally(() => this.clock.release('band listens'))
  }
}

import { joinSamples } from '@/core/dsp'
import { monitorPracticeTransmitter } from '@/standins'
import { drain, streamOf, type AudioOutput, type PlayRequest } from '../audioOutput'
import type { StationClock } from '../stationClock'
import type { PracticeClient } from './practice.client'

/** Pieces of a transmission of open length reach the band in such lengths. */
const PIECE_MS = 500
const TICK_MS = 10

interface Playing {
  request: PlayRequest
  onEnded: (complete: boolean) => void
  timer: ReturnType<typeof setInterval>
  /** Of known length: all of it. Of an open one: what the band does not have yet. */
  samples: Float32Array
  known: boolean
  /** Samples from the start of the transmission up to the first of `samples`; a late start is cut from the front. */
  before: number
}

/**
 * The antenna of the practice band: takes the very samples that would go to the sound device, and hands those that were
 * played before the end or a Silence to the simulated band, which decodes them. With `audible` they are heard as well.
 */
export class PracticeOutput implements AudioOutput {
  readonly sampleRateHz = 48_000
  private playing: Playing | undefined
  private heard: Float32Array | undefined

  constructor(
    private readonly clock: StationClock,
    private readonly band: PracticeClient,
    private readonly audible: AudioOutput | undefined,
    private readonly onCopied: (text: string | null) => void,
  ) {}

  play(request: PlayRequest, onEnded: (complete: boolean) => void): void {
    this.stop()
    const known = request.length !== undefined
    const samples = known ? drain(request.stream, request.length!) : new Float32Array(0)
    const lateMs = Math.max(0, this.clock.nowUtcMs() - request.startUtcMs)
    const cut = known ? Math.round((lateMs / 1000) * request.sampleRateHz) : 0
    // What is open is pulled once: it is heard by whoever hears the band.
    if (known && this.clock.pace === 1) this.audible?.play({ ...request, stream: streamOf(samples) }, () => undefined)
    const timer = setInterval(() => this.advance(), TICK_MS)
    this.playing = { request, onEnded, timer, samples: samples.slice(cut), known, before: cut }
    if (!known || request.test) return
    const startUtcMs = this.clock.worldAtUtc(request.startUtcMs + (cut / request.sampleRateHz) * 1000)
    void this.band.keyed(startUtcMs, startUtcMs + ((samples.length - cut) / request.sampleRateHz) * 1000)
  }

  /** Whether a transmission of known length is on its way to the band. */
  get busy(): boolean {
    return this.playing?.known === true
  }

  monitor(): Float32Array | undefined {
    return this.heard
  }

  stop(): void {
    this.audible?.stop()
    this.finish(false)
  }

  /** How many samples have been played by now. */
  private playedSamples({ request }: Playing): number {
    return Math.max(0, Math.round(((this.clock.nowUtcMs() - request.startUtcMs) / 1000) * request.sampleRateHz))
  }

  private advance(): void {
    const { playing } = this
    if (!playing) return
    const { request, known, samples, before } = playing
    const played = this.playedSamples(playing)
    if (known) {
      if (played >= before + samples.length) this.finish(true)
      return
    }
    if (!this.pull(playing, played)) {
      this.finish(true)
      return
    }
    if (playing.samples.length < (PIECE_MS / 1000) * request.sampleRateHz) return
    // Given away, its samples are gone from here.
    const piece = playing.samples
    const { length } = piece
    this.give(playing, piece, false)
    playing.before += length
    playing.samples = new Float32Array(0)
  }

  /** @returns whether there may be more */
  private pull(playing: Playing, upTo: number): boolean {
    const piece = new Float32Array(Math.max(0, upTo - playing.before - playing.samples.length))
    const count = playing.request.stream.next(piece)
    playing.samples = joinSamples([playing.samples, piece.subarray(0, count)])
    return count === piece.length
  }

  private finish(complete: boolean): void {
    const { playing } = this
    if (!playing) return
    this.playing = undefined
    clearInterval(playing.timer)
    const played = complete ? Infinity : Math.max(0, this.playedSamples(playing) - playing.before)
    const samples = playing.samples.slice(0, Math.min(playing.samples.length, played))
    if (playing.request.test) this.heard = monitorPracticeTransmitter(samples, playing.request.sampleRateHz)
    playing.onEnded(complete)
    this.give(playing, samples, true, complete)
  }

  private give({ request, before }: Playing, samples: Float32Array, last: boolean, complete = false): void {
    if (request.test) return
    // The band lives by true time: with a clock that is off, the transmission reaches it early or late.
    const startUtcMs = this.clock.worldAtUtc(request.startUtcMs + (before / request.sampleRateHz) * 1000)
    if (last) this.clock.hold('band listens')
    this.band
      .hear({ samples, sampleRateHz: request.sampleRateHz, startUtcMs, last })
      .then((copied) => {
        // What was cut off on purpose need not be copied.
        if (complete && copied !== undefined) this.onCopied(copied)
      })
      .catch(() => complete && this.onCopied(null))
      .finally(() => last && this.clock.release('band listens'))
  }
}

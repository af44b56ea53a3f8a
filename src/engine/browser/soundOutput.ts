import { drain, type AudioOutput, type PlayRequest } from '../station/audioOutput'
import type { StationClock } from '../station/stationClock'
import { readOutputDelayMs } from './outputDelay'

/** Audio of open length is made this much ahead of when it is played, in such pieces. */
const AHEAD_S = 0.4
const PIECE_S = 0.1
const PULL_EVERY_MS = 80

interface Playing {
  sources: AudioBufferSourceNode[]
  timer: ReturnType<typeof setInterval> | undefined
  onEnded: (complete: boolean) => void
}

type Opened = { ok: true; output: AudioOutput } | { ok: false; error: string }

/** Opens the sound device for transmitted audio. */
export async function openSoundOutput(deviceId: string | undefined, clock: StationClock): Promise<Opened> {
  try {
    const context = new AudioContext({ latencyHint: 'interactive' }) as AudioContext & { setSinkId?: (id: string) => Promise<void> }
    if (deviceId) {
      if (!context.setSinkId)
        return { ok: false, error: 'This browser cannot choose an audio output: choose it in the system’s sound settings.' }
      await context.setSinkId(deviceId)
    }
    if (context.state === 'suspended') await context.resume()
    const output = new SoundOutput(context, clock)
    output.setDelayMs(readOutputDelayMs(deviceId))
    return { ok: true, output }
  } catch (error) {
    return { ok: false, error: `The audio output could not be opened: ${(error as Error).message}. Choose another one.` }
  }
}

/** Plays transmissions at exact instants of the timebase. */
export class SoundOutput implements AudioOutput {
  readonly sampleRateHz: number
  private readonly gain: GainNode
  private delayMs = 0
  private playing: Playing | undefined

  constructor(
    private readonly context: AudioContext,
    private readonly clock: StationClock,
  ) {
    this.sampleRateHz = Math.round(context.sampleRate)
    this.gain = context.createGain()
    this.gain.connect(context.destination)
  }

  setDelayMs(delayMs: number): void {
    this.delayMs = delayMs
  }

  play(request: PlayRequest, onEnded: (complete: boolean) => void): void {
    this.stop()
    this.gain.gain.cancelScheduledValues(0)
    this.gain.gain.value = 1
    const when = this.contextTimeAt(this.clock.monotonicAtUtc(request.startUtcMs) - this.delayMs)
    if (request.length === undefined) this.playOpen(request, when, onEnded)
    else this.playKnown(request, request.length, when, onEnded)
  }

  /** All of it at once: whatever keeps the page busy cannot tear it. What is late is cut from the front. */
  private playKnown(request: PlayRequest, length: number, when: number, onEnded: (complete: boolean) => void): void {
    const samples = drain(request.stream, length)
    const earliest = this.context.currentTime + 0.01
    const late = Math.max(0, earliest - when)
    if (late >= samples.length / request.sampleRateHz) {
      onEnded(false)
      return
    }
    const playing: Playing = { sources: [], timer: undefined, onEnded }
    this.playing = playing
    this.schedule(playing, samples, { when: Math.max(when, earliest), late, last: true })
  }

  /** Pulled a fraction of a second ahead, in pieces that follow one another to the sample. */
  private playOpen(request: PlayRequest, when: number, onEnded: (complete: boolean) => void): void {
    const { sampleRateHz } = request
    let frame = Math.ceil(Math.max(when, this.context.currentTime + 0.02) * sampleRateHz)
    const pull = () => {
      if (this.playing !== playing) return
      // A page that was busy for longer than is kept ahead leaves a gap, and goes on from now.
      frame = Math.max(frame, Math.ceil((this.context.currentTime + 0.01) * sampleRateHz))
      while (frame < (this.context.currentTime + AHEAD_S) * sampleRateHz) {
        const piece = new Float32Array(Math.round(PIECE_S * sampleRateHz))
        const count = request.stream.next(piece)
        const last = count < piece.length
        if (count > 0 || last)
          this.schedule(playing, last ? piece.subarray(0, Math.max(1, count)) : piece, { when: frame / sampleRateHz, late: 0, last })
        frame += count
        if (!last) continue
        clearInterval(playing.timer)
        return
      }
    }
    const playing: Playing = { sources: [], timer: setInterval(pull, PULL_EVERY_MS), onEnded }
    this.playing = playing
    pull()
  }

  private schedule(playing: Playing, samples: Float32Array, { when, late, last }: { when: number; late: number; last: boolean }): void {
    const buffer = this.context.createBuffer(1, samples.length, this.sampleRateHz)
    buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, 0)
    const source = this.context.createBufferSource()
    source.buffer = buffer
    source.connect(this.gain)
    source.start(when, late)
    playing.sources.push(source)
    source.onended = () => {
      playing.sources = playing.sources.filter((other) => other !== source)
      if (!last || this.playing !== playing) return
      this.playing = undefined
      playing.onEnded(true)
    }
  }

  stop(): void {
    const { playing } = this
    if (!playing) return
    this.playing = undefined
    // The gain goes first: it acts at the next block of samples, whatever the sources are doing.
    this.gain.gain.cancelScheduledValues(0)
    this.gain.gain.value = 0
    clearInterval(playing.timer)
    for (const source of playing.sources) {
      source.onended = null
      source.stop()
      source.disconnect()
    }
    playing.onEnded(false)
  }

  /** The context's time at which a sample must be played to leave the device at a monotonic instant. */
  private contextTimeAt(monotonicMs: number): number {
    const stamp = this.context.getOutputTimestamp?.()
    // Before the device runs the stamp is zero; then the announced latency is the best that is known.
    if (stamp?.contextTime && stamp.performanceTime) return stamp.contextTime + (monotonicMs - stamp.performanceTime) / 1000
    const latencyS = this.context.outputLatency || this.context.baseLatency || 0
    return this.context.currentTime + (monotonicMs - performance.now()) / 1000 - latencyS
  }
}

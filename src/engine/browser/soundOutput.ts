import type { AudioOutput, PlayRequest } from '../audioOutput'
import type { StationClock } from '../stationClock'
import { readOutputDelayMs } from './outputDelay'

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
  private playing: { source: AudioBufferSourceNode; onEnded: (complete: boolean) => void } | undefined

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
    const buffer = this.context.createBuffer(1, request.samples.length, request.sampleRateHz)
    buffer.copyToChannel(request.samples as Float32Array<ArrayBuffer>, 0)
    const source = this.context.createBufferSource()
    source.buffer = buffer
    source.connect(this.gain)
    this.gain.gain.cancelScheduledValues(0)
    this.gain.gain.value = 1
    const when = this.contextTimeAt(this.clock.monotonicAtUtc(request.startUtcMs) - this.delayMs)
    const earliest = this.context.currentTime + 0.01
    const late = Math.max(0, earliest - when)
    if (late >= buffer.duration) {
      onEnded(false)
      return
    }
    source.start(Math.max(when, earliest), late)
    this.playing = { source, onEnded }
    source.onended = () => {
      if (this.playing?.source !== source) return
      this.playing = undefined
      onEnded(true)
    }
  }

  stop(): void {
    const { playing } = this
    if (!playing) return
    this.playing = undefined
    // The gain goes first: it acts at the next block of samples, whatever the source is doing.
    this.gain.gain.cancelScheduledValues(0)
    this.gain.gain.value = 0
    playing.source.onended = null
    playing.source.stop()
    playing.source.disconnect()
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

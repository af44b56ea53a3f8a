import { SAMPLE_RATE_HZ } from '@/core/dsp'
import type { AudioSource, OnBlock } from './audioBlock'
import type { StationClock } from './stationClock'

/** A stretch of audio at 12 kHz, or less at the end of a recording, and as it was converted when that differs. */
export interface StretchOfAudio {
  samples: Float32Array
  raw?: { channels: readonly Float32Array[]; rateHz: number }
}

const BLOCK_MS = 100
/** The next stretch is asked for this long before the present one ends: of slots, before the decoder begins, so that both work at once. */
const AHEAD_MS = 1350

export interface PacedSourceOptions {
  kind: 'recording' | 'practice'
  label: string
  clock: StationClock
  /** Stretches begin at whole multiples of this since 1970, a multiple of 100 ms. */
  stepMs: number
  /** Gives the stretch that begins at an instant of the world; undefined when there is no more. */
  stretchAt: (startUtcMs: number) => Promise<StretchOfAudio | undefined>
  /** True while what the next stretch will hold is not settled. It is then asked for later, at its start at the latest. */
  unsettled?: () => boolean
  onBlock: OnBlock
  onEnd: () => void
  onProblem: (error: string) => void
}

/** Plays stretches of audio into the station in step with the simulated clock, which waits when one is not ready. */
export class PacedSource implements AudioSource {
  readonly kind: 'recording' | 'practice'
  readonly label: string
  private readonly stretches = new Map<number, StretchOfAudio | 'asked' | 'end'>()
  /** True time of the simulated world up to which audio has been sent. */
  private sentUtcMs: number
  private stopped = false
  private readonly timer: ReturnType<typeof setInterval>

  constructor(private readonly options: PacedSourceOptions) {
    this.kind = options.kind
    this.label = options.label
    // On the grid of blocks, so that no block lies across the end of a stretch.
    this.sentUtcMs = Math.floor(options.clock.worldUtcMs() / BLOCK_MS) * BLOCK_MS
    this.ask(this.stepAt(this.sentUtcMs))
    this.timer = setInterval(() => this.advance(), 25)
  }

  stop(): void {
    this.stopped = true
    clearInterval(this.timer)
  }

  private stepAt(utcMs: number): number {
    return Math.floor(utcMs / this.options.stepMs)
  }

  private ask(step: number): void {
    if (this.stretches.has(step)) return
    this.stretches.set(step, 'asked')
    this.options
      .stretchAt(step * this.options.stepMs)
      .then((audio) => this.stretches.set(step, audio ?? 'end'))
      .catch((error: unknown) => this.options.onProblem((error as Error).message))
  }

  private advance(): void {
    const { clock, onBlock, onEnd, unsettled, stepMs } = this.options
    const aheadMs = Math.min(AHEAD_MS, stepMs - BLOCK_MS)
    const nowUtcMs = clock.worldUtcMs()
    while (!this.stopped && this.sentUtcMs + BLOCK_MS <= nowUtcMs) {
      const step = this.stepAt(this.sentUtcMs)
      const audio = this.stretches.get(step)
      if (audio === 'end') {
        this.stop()
        onEnd()
        return
      }
      if (audio === undefined || audio === 'asked') {
        clock.hold('audio')
        this.ask(step)
        return
      }
      clock.release('audio')
      const intoMs = this.sentUtcMs - step * stepMs
      const samples = cut(audio.samples, SAMPLE_RATE_HZ, intoMs)
      const raw = audio.raw && {
        channels: audio.raw.channels.map((channel) => cut(channel, audio.raw!.rateHz, intoMs)),
        rateHz: audio.raw.rateHz,
      }
      onBlock({ samples, startUtcMs: clock.utcAtWorld(this.sentUtcMs), ...(raw && { raw }) })
      this.sentUtcMs += BLOCK_MS
      if (intoMs >= stepMs - aheadMs && !unsettled?.()) this.ask(step + 1)
      this.stretches.delete(step - 2)
    }
  }
}

/** A block's worth of samples; silence after the end. */
function cut(samples: Float32Array, rateHz: number, fromMs: number): Float32Array {
  const from = Math.round((fromMs * rateHz) / 1000)
  const to = Math.round(((fromMs + BLOCK_MS) * rateHz) / 1000)
  const out = new Float32Array(to - from)
  out.set(samples.subarray(from, to))
  return out
}

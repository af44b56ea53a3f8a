import { SAMPLE_RATE_HZ } from '@/core/ft8'

export const BLIND_WANTED_S = 45
/** Stamps scatter by less than this; a larger step is a gap in what was captured. */
const JITTER_MS = 60
/** After a longer gap the stretch is begun anew. */
const LONGEST_GAP_MS = 10_000
const PER_MS = SAMPLE_RATE_HZ / 1000

/** A stretch of received audio, and when it began on the clock's monotonic time. */
export interface Captured {
  samples: Float32Array
  startMonotonicMs: number
}

/**
 * Gathers audio for the blind search. What a busy device drops is left silent at its place, so that what comes after it
 * stays where it belongs; a long gap starts anew.
 */
export class BlindCapture {
  private readonly samples = new Float32Array(BLIND_WANTED_S * SAMPLE_RATE_HZ)
  private filled = 0
  private startMonotonicMs = 0

  /** Seconds gathered. */
  get seconds(): number {
    return this.filled / SAMPLE_RATE_HZ
  }

  /** @returns the whole stretch once there is enough */
  push(block: Float32Array, startMonotonicMs: number): Captured | undefined {
    const gapMs = startMonotonicMs - (this.startMonotonicMs + this.filled / PER_MS)
    if (this.filled === 0 || Math.abs(gapMs) > LONGEST_GAP_MS) {
      this.samples.fill(0)
      this.filled = 0
      this.startMonotonicMs = startMonotonicMs
    } else if (Math.abs(gapMs) > JITTER_MS)
      this.filled = Math.max(0, Math.min(this.samples.length, this.filled + Math.round(gapMs * PER_MS)))
    const part = block.subarray(0, this.samples.length - this.filled)
    this.samples.set(part, this.filled)
    this.filled += part.length
    return this.filled === this.samples.length ? { samples: this.samples.slice(), startMonotonicMs: this.startMonotonicMs } : undefined
  }
}

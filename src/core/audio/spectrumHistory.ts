import { createRealFft } from '../dsp/fft'
import { hannWindow } from '../dsp/hann'
import { SAMPLE_RATE_HZ } from '../dsp/sampleRate'

const FRAME = 2048
const HOP = 1024
/** Width of a bin and time from one frame to the next. */
export const BIN_HZ = SAMPLE_RATE_HZ / FRAME
export const FRAME_S = HOP / SAMPLE_RATE_HZ
export const BINS = FRAME / 2 + 1
/** Twenty seconds: more than one FT8 slot, so that a pause between slots is always among them. */
const KEPT_FRAMES = 235

/** The spectra of the last twenty seconds: power density in full scale² per Hz, one row each 85 ms. */
export interface SpectrumHistory {
  push(samples: Float32Array): void
  /** Rows from the oldest to the newest; each is a view that the next `push` may change. */
  rows(): Float32Array[]
  /** Rows since the start, so that a row can be told from its successor. */
  readonly count: number
}

export function createSpectrumHistory(keptFrames = KEPT_FRAMES): SpectrumHistory {
  const fft = createRealFft(FRAME)
  const window = hannWindow(FRAME)
  const scale = 2 / (SAMPLE_RATE_HZ * window.reduce((sum, w) => sum + w * w, 0))
  const buffer = new Float32Array(FRAME)
  const windowed = new Float64Array(FRAME)
  const re = new Float64Array(BINS)
  const im = new Float64Array(BINS)
  const ring = Array.from({ length: keptFrames }, () => new Float32Array(BINS))
  let filled = 0
  let count = 0

  const take = () => {
    for (let i = 0; i < FRAME; i++) windowed[i] = buffer[i]! * window[i]!
    fft.forward(windowed, re, im)
    const row = ring[count % keptFrames]!
    for (let bin = 0; bin < BINS; bin++) row[bin] = scale * (re[bin]! * re[bin]! + im[bin]! * im[bin]!)
    count++
  }

  return {
    push(samples) {
      for (let at = 0; at < samples.length;) {
        const part = Math.min(samples.length - at, FRAME - filled)
        buffer.set(samples.subarray(at, at + part), filled)
        filled += part
        at += part
        if (filled < FRAME) break
        take()
        buffer.copyWithin(0, HOP)
        filled = FRAME - HOP
      }
    },
    rows: () => Array.from({ length: Math.min(count, keptFrames) }, (_, i) => ring[(Math.max(0, count - keptFrames) + i) % keptFrames]!),
    get count() {
      return count
    },
  }
}

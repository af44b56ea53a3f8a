import { createRealFft } from '../dsp'
import { SAMPLE_RATE_HZ } from './signal'

/** Samples of a spectrum, and from one to the next: each sample is in two of them. */
export const SPECTRUM_SAMPLES = 4096
export const HOP_SAMPLES = SPECTRUM_SAMPLES / 2
export const BIN_HZ = SAMPLE_RATE_HZ / SPECTRUM_SAMPLES

/** One spectrum of the whole band. */
export interface BandSpectrum {
  /** Counted from 0; it covers the samples from `HOP_SAMPLES * (n - 1)` on. */
  n: number
  re: Float64Array
  im: Float64Array
}

/** Cuts audio at 12 kHz into spectra that overlap by half; every conversation is then taken out of the same spectra. */
export class BandSpectra {
  private readonly fft = createRealFft(SPECTRUM_SAMPLES)
  private readonly window = new Float64Array(SPECTRUM_SAMPLES)
  private filled = HOP_SAMPLES
  private n = 0

  push(samples: Float32Array): BandSpectrum[] {
    const out: BandSpectrum[] = []
    for (let from = 0; from < samples.length;) {
      const count = Math.min(samples.length - from, SPECTRUM_SAMPLES - this.filled)
      for (let i = 0; i < count; i++) {
        const sample = samples[from + i]!
        // What is no number would stay in every receiver that follows its frequency.
        this.window[this.filled + i] = Number.isFinite(sample) ? sample : 0
      }
      this.filled += count
      from += count
      if (this.filled < SPECTRUM_SAMPLES) break
      const re = new Float64Array(SPECTRUM_SAMPLES / 2 + 1)
      const im = new Float64Array(SPECTRUM_SAMPLES / 2 + 1)
      this.fft.forward(this.window, re, im)
      out.push({ n: this.n++, re, im })
      this.window.copyWithin(0, HOP_SAMPLES)
      this.filled = HOP_SAMPLES
    }
    return out
  }
}

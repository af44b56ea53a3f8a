import { createFft, createRealFft, type ComplexFft } from '../dsp/fft'
import { SAMPLE_RATE_HZ } from './signal'

/**
 * 20.48 s at 12 kHz: room for a slot and 2.5 s on either side, and a whole number of bins (128) to one tone spacing.
 */
export const SPECTRUM_SAMPLES = 245_760
const SPECTRUM_S = SPECTRUM_SAMPLES / SAMPLE_RATE_HZ
const BINS_PER_HZ = SPECTRUM_S

const real = createRealFft(SPECTRUM_SAMPLES)
const narrow = new Map<number, ComplexFft>()

function narrowFft(bins: number): ComplexFft {
  let fft = narrow.get(bins)
  if (!fft) narrow.set(bins, (fft = createFft(bins)))
  return fft
}

/** A narrow band around one frequency as complex samples at a low rate. */
export interface Baseband {
  /** Complex samples; sample n is n / rateHz seconds after the first sample of the slot's audio. */
  readonly re: Float64Array
  readonly im: Float64Array
  readonly rateHz: number
  /** The frequency that lies at 0 Hz in the band. */
  readonly centreHz: number
}

/**
 * The whole audio of a slot held as one spectrum. Bands are cut out of it, decoded, changed (a decoded signal
 * taken away) and put back, which costs a short transform instead of filtering the whole slot each time.
 */
export class SlotSpectrum {
  private readonly re = new Float64Array(SPECTRUM_SAMPLES / 2 + 1)
  private readonly im = new Float64Array(SPECTRUM_SAMPLES / 2 + 1)

  /** @param samples 12 kHz audio, at most 245 760 samples @throws {RangeError} more than that */
  constructor(samples: ArrayLike<number>) {
    if (samples.length > SPECTRUM_SAMPLES)
      throw new RangeError(`a slot's audio is at most ${SPECTRUM_SAMPLES} samples at 12 kHz, got ${samples.length}`)
    const padded = new Float64Array(SPECTRUM_SAMPLES)
    for (let i = 0; i < samples.length; i++) {
      const value = samples[i]!
      // Not a number or infinite: its difference with itself is not zero.
      padded[i] = value - value === 0 ? value : 0
    }
    real.forward(padded, this.re, this.im)
  }

  /** Cuts out a band of `bins` bins (a power of two times 15, or of two) centred near `centreHz`, as complex samples. */
  cut(centreHz: number, bins: number, into?: Baseband): Baseband {
    const centre = Math.round(centreHz * BINS_PER_HZ)
    const re = into?.re ?? new Float64Array(bins)
    const im = into?.im ?? new Float64Array(bins)
    const half = bins / 2
    const top = this.re.length
    for (let i = -half; i < half; i++) {
      const from = centre + i
      const to = i < 0 ? i + bins : i
      const inside = from >= 0 && from < top
      re[to] = inside ? this.re[from]! : 0
      im[to] = inside ? this.im[from]! : 0
    }
    narrowFft(bins).inverse(re, im)
    return { re, im, rateHz: bins / SPECTRUM_S, centreHz: centre / BINS_PER_HZ }
  }

  /** Puts a band back where it was cut out. The band's arrays are used up. */
  putBack(band: Baseband): void {
    const bins = band.re.length
    narrowFft(bins).forward(band.re, band.im)
    const centre = Math.round(band.centreHz * BINS_PER_HZ)
    const half = bins / 2
    for (let i = -half; i < half; i++) {
      const to = centre + i
      if (to < 0 || to >= this.re.length) continue
      const from = i < 0 ? i + bins : i
      this.re[to] = band.re[from]!
      this.im[to] = band.im[from]!
    }
  }

  /** The audio as it now stands. @returns 245 760 samples */
  toSamples(): Float64Array {
    const samples = new Float64Array(SPECTRUM_SAMPLES)
    real.inverse(this.re, this.im, samples)
    return samples
  }
}

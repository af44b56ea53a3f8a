import { createFft } from '../dsp'
import { BIN_HZ, HOP_SAMPLES, SPECTRUM_SAMPLES, type BandSpectrum } from './bandSpectra'
import { BAUD, SAMPLE_RATE_HZ, SYMBOL_S } from './signal'

/** Bins that are cut out about a conversation. */
const BINS = 128
export const BASEBAND_HZ = BINS * BIN_HZ
export const SAMPLES_PER_SYMBOL = BASEBAND_HZ / BAUD
/** Of each spectrum the middle half is free of its edges. */
export const SAMPLES_PER_HOP = BINS / 2
/**
 * Filters in time are raised cosines of a half-width in symbols. The one that follows a signal mixes neighbouring symbols little; the
 * pulse's own lets least noise through, and what it mixes is known.
 */
const FOLLOWING_FILTER = 0.8
export const MATCHED_FILTER = 1

/** Width of the noise that the following filter lets through. */
export const FILTER_NOISE_HZ = 3 / (4 * FOLLOWING_FILTER * SYMBOL_S)

const fft = createFft(BINS)

/** Transform of a raised cosine of unit area at a distance from its middle. @param halfWidth in symbols */
function filterAt(offsetHz: number, halfWidth: number): number {
  const x = 2 * offsetHz * halfWidth * SYMBOL_S
  if (Math.abs(x) < 1e-9) return 1
  if (Math.abs(Math.abs(x) - 1) < 1e-6) return 0.5
  return Math.sin(Math.PI * x) / (Math.PI * x) / (1 - x * x)
}

/** When the first sample of a spectrum's baseband was, in seconds from the first sample of all. */
export const startOf = ({ n }: BandSpectrum): number => ((n - 1) * HOP_SAMPLES + SPECTRUM_SAMPLES / 4) / SAMPLE_RATE_HZ

/** A piece of a conversation about its own frequency, filtered: complex, at 375 Hz, twelve samples a symbol. */
export interface Baseband {
  re: Float64Array
  im: Float64Array
}

/**
 * Takes a conversation out of a spectrum of the band.
 * @param frequencyHz its middle; the phase is that of a mixer of this frequency that has run since the first sample
 * @param halfWidth of the filter, in symbols
 */
export function basebandOf(spectrum: BandSpectrum, frequencyHz: number, halfWidth = FOLLOWING_FILTER): Baseband {
  const middle = Math.round(frequencyHz / BIN_HZ)
  const re = new Float64Array(BINS)
  const im = new Float64Array(BINS)
  for (let i = -BINS / 2; i < BINS / 2; i++) {
    const bin = middle + i
    if (bin < 1 || bin >= SPECTRUM_SAMPLES / 2) continue
    const weight = filterAt(bin * BIN_HZ - frequencyHz, halfWidth) / SPECTRUM_SAMPLES
    const at = (i + BINS) % BINS
    re[at] = 2 * spectrum.re[bin]! * weight * BINS
    im[at] = 2 * spectrum.im[bin]! * weight * BINS
  }
  fft.inverse(re, im)
  // Mixed down by whole bins from the spectrum's own beginning: what that turns from hop to hop is undone, and so is what the
  // frequency differs from a bin.
  const startS = startOf(spectrum)
  const out: Baseband = { re: new Float64Array(SAMPLES_PER_HOP), im: new Float64Array(SAMPLES_PER_HOP) }
  const restHz = frequencyHz - middle * BIN_HZ
  const hopTurn = middle % 2 === 1 && spectrum.n % 2 === 0 ? -1 : 1
  for (let i = 0; i < SAMPLES_PER_HOP; i++) {
    const turn = -2 * Math.PI * restHz * (startS + i / BASEBAND_HZ)
    const [cos, sin] = [hopTurn * Math.cos(turn), hopTurn * Math.sin(turn)]
    const [a, b] = [re[BINS / 4 + i]!, im[BINS / 4 + i]!]
    out.re[i] = a * cos - b * sin
    out.im[i] = a * sin + b * cos
  }
  return out
}

import { createFft, type ComplexFft } from '../dsp'
import { BIN_HZ, HOP_SAMPLES, SPECTRUM_SAMPLES, type BandSpectrum } from './bandSpectra'
import { SAMPLE_RATE_HZ, type Baud } from './signal'

/** Samples of a symbol in the baseband, whatever the speed. */
export const SAMPLES_PER_SYMBOL = 6
const binsAt = (baud: Baud) => Math.round((SAMPLES_PER_SYMBOL * baud) / BIN_HZ)
/** Complex samples a second. */
export const basebandHz = (baud: Baud): number => SAMPLES_PER_SYMBOL * baud
/** Of each spectrum the middle half is free of its edges. */
export const samplesPerHop = (baud: Baud): number => binsAt(baud) / 2

const ffts = new Map<number, ComplexFft>()

/** Transform of the pulse, a raised cosine of two symbols, with unit area, at a distance from its middle. */
function matchedFilterAt(offsetHz: number, symbolS: number): number {
  const x = 2 * offsetHz * symbolS
  if (Math.abs(x) < 1e-9) return 1
  if (Math.abs(Math.abs(x) - 1) < 1e-6) return 0.5
  return Math.sin(Math.PI * x) / (Math.PI * x) / (1 - x * x)
}

/** The filter's bins for frequencies that were asked for lately: a receiver asks for the same one again and again. */
const MOST_KEPT = 200
const kept = new Map<Baud, Map<number, Float64Array>>()
function weightsOf(frequencyHz: number, baud: Baud): Float64Array {
  const ofBaud = kept.get(baud) ?? new Map<number, Float64Array>()
  kept.set(baud, ofBaud)
  const known = ofBaud.get(frequencyHz)
  if (known) return known
  if (ofBaud.size >= MOST_KEPT) ofBaud.clear()
  const bins = binsAt(baud)
  const middle = Math.round(frequencyHz / BIN_HZ)
  const weights = Float64Array.from({ length: bins }, (_, k) => matchedFilterAt((middle + k - bins / 2) * BIN_HZ - frequencyHz, 1 / baud))
  ofBaud.set(frequencyHz, weights)
  return weights
}

/** When the first sample of a spectrum's baseband was, in seconds from the first sample of all. */
export const startOf = ({ n }: BandSpectrum): number => ((n - 1) * HOP_SAMPLES + SPECTRUM_SAMPLES / 4) / SAMPLE_RATE_HZ

/** A piece of a conversation about its own frequency, through the filter matched to its pulse: complex, six samples a symbol. */
export interface Baseband {
  re: Float64Array
  im: Float64Array
}

/** Power of the noise that the filter lets through. @param density one-sided, of the band */
export const noiseOf = (density: number, baud: Baud): number => 1.5 * density * baud

/**
 * Takes a conversation out of a spectrum of the band.
 * @param frequencyHz its middle; the phase is that of a mixer of this frequency that has run since the first sample
 */
export function basebandOf(spectrum: BandSpectrum, frequencyHz: number, baud: Baud): Baseband {
  const bins = binsAt(baud)
  const fft = ffts.get(bins) ?? createFft(bins)
  ffts.set(bins, fft)
  const middle = Math.round(frequencyHz / BIN_HZ)
  const re = new Float64Array(bins)
  const im = new Float64Array(bins)
  const scale = (2 * bins) / SPECTRUM_SAMPLES
  const weights = weightsOf(frequencyHz, baud)
  for (let i = -bins / 2; i < bins / 2; i++) {
    const bin = middle + i
    if (bin < 1 || bin >= SPECTRUM_SAMPLES / 2) continue
    const weight = scale * weights[i + bins / 2]!
    const at = (i + bins) % bins
    re[at] = spectrum.re[bin]! * weight
    im[at] = spectrum.im[bin]! * weight
  }
  fft.inverse(re, im)
  // Mixed down by whole bins from the spectrum's own beginning: what that turns from hop to hop is undone, and so is what the
  // frequency differs from a bin.
  const count = bins / 2
  const out: Baseband = { re: new Float64Array(count), im: new Float64Array(count) }
  const restHz = frequencyHz - middle * BIN_HZ
  const hopTurn = middle % 2 === 1 && spectrum.n % 2 === 0 ? -1 : 1
  const first = -2 * Math.PI * restHz * startOf(spectrum)
  const step = (-2 * Math.PI * restHz) / basebandHz(baud)
  let [cos, sin] = [hopTurn * Math.cos(first), hopTurn * Math.sin(first)]
  const [stepCos, stepSin] = [Math.cos(step), Math.sin(step)]
  for (let i = 0; i < count; i++) {
    const [a, b] = [re[bins / 4 + i]!, im[bins / 4 + i]!]
    out.re[i] = a * cos - b * sin
    out.im[i] = a * sin + b * cos
    ;[cos, sin] = [cos * stepCos - sin * stepSin, cos * stepSin + sin * stepCos]
  }
  return out
}

/**
 * The value between four samples that follow each other, by the cubic through them.
 * @param part from the second (0) to the third (1)
 */
export function between(values: ArrayLike<number>, at: number, part: number): number {
  const [a, b, c, d] = [values[at - 1]!, values[at]!, values[at + 1]!, values[at + 2]!]
  const [p, q, r, s] = [part + 1, part, part - 1, part - 2]
  return -(a * q * r * s) / 6 + (b * p * r * s) / 2 - (c * p * q * s) / 2 + (d * p * q * r) / 6
}

import { createFft } from '../dsp'
import { basebandHz, basebandOf, samplesPerHop } from './baseband'
import { BIN_HZ, type BandSpectrum } from './bandSpectra'
import { BAND_HZ, BAUD, type Baud } from './signal'

/** Spectra that one search looks at: two seconds. */
export const SEARCHED_SPECTRA = 12
/** Half the width of a signal's hump, in bins, and how far apart two are looked for. */
const HUMP_BINS = 6
const APART_BINS = 4
/** A hump counts from this much above the floor, as a ratio; noise alone scatters by some 12 %. */
const LEAST_HUMP = 1.3
/** A signal squared is a line; it counts from this much above what lies around it. Noise reaches 20 once in an hour of the whole band. */
const LEAST_LINE = 22
const MOST_CANDIDATES = 120
/** The line is looked for at twice this distance from where the hump was found. */
const OFF_HZ = 9

export interface Candidate {
  frequencyHz: number
  /** Power of the line over what lies around it. */
  line: number
}

const HOP = samplesPerHop(BAUD)
const length = SEARCHED_SPECTRA * HOP
const fft = createFft(length)

/** What a Hann window leaves of the power of noise. */
const HANN_POWER = 3 / 8

/** Mean power of each bin over some spectra, as through a Hann window: strong signals must not spill over the whole band. */
export function meanPower(spectra: readonly BandSpectrum[]): Float64Array {
  const power = new Float64Array(spectra[0]!.re.length)
  for (const { re, im } of spectra)
    for (let k = 1; k < power.length - 1; k++) {
      const real = re[k]! / 2 - (re[k - 1]! + re[k + 1]!) / 4
      const imaginary = im[k]! / 2 - (im[k - 1]! + im[k + 1]!) / 4
      power[k]! += (real * real + imaginary * imaginary) / (HANN_POWER * spectra.length)
    }
  return power
}

/** Mean of noise over what one in ten of its bins do not reach, with twelve spectra that overlap by half: measured. */
const MEAN_OVER_TENTH = 1.54

/** Noise is told for stretches of so many bins: it does not change from one to the next. */
const TOLD_BINS = 16
const told = new WeakMap<Float64Array, Map<number, number>>()

/** Noise of a bin about a frequency: what one in ten bins within 400 Hz do not reach, scaled to the mean. */
export function noiseAbout(power: Float64Array, frequencyHz: number): number {
  const middle = TOLD_BINS * Math.round(frequencyHz / BIN_HZ / TOLD_BINS)
  const known = told.get(power) ?? new Map<number, number>()
  told.set(power, known)
  const before = known.get(middle)
  if (before !== undefined) return before
  const half = Math.round(400 / BIN_HZ)
  const from = Math.max(Math.round(BAND_HZ[0] / BIN_HZ), middle - half)
  const around = power.slice(from, Math.min(Math.round(BAND_HZ[1] / BIN_HZ), middle + half)).sort()
  const noise = (around[Math.floor(0.1 * around.length)] ?? 0) * MEAN_OVER_TENTH
  known.set(middle, noise)
  return noise
}

/**
 * Looks for signals that reverse their phase: such a one, squared, holds a steady line at twice its frequency. Strongest first.
 * @param isKnown tells frequencies at which nothing is looked for
 */
export function searchBand(spectra: readonly BandSpectrum[], isKnown: (frequencyHz: number) => boolean = () => false): Candidate[] {
  const power = meanPower(spectra)
  const [from, to] = BAND_HZ.map((hz) => Math.round(hz / BIN_HZ)) as [number, number]
  const hump = new Float64Array(power.length)
  for (let k = from; k <= to; k++) {
    let sum = 0
    for (let j = -HUMP_BINS; j <= HUMP_BINS; j++) sum += power[k + j]!
    hump[k] = sum / (2 * HUMP_BINS + 1)
  }
  const humps: { k: number; ratio: number }[] = []
  for (let k = from; k <= to; k += APART_BINS) {
    let best = k
    for (let j = k; j < k + APART_BINS; j++) if (hump[j]! > hump[best]!) best = j
    if (isKnown(best * BIN_HZ)) continue
    const ratio = hump[best]! / noiseAbout(power, best * BIN_HZ)
    if (ratio >= LEAST_HUMP) humps.push({ k: best, ratio })
  }
  humps.sort((a, b) => b.ratio - a.ratio)
  return humps
    .slice(0, MOST_CANDIDATES)
    .flatMap(({ k }) => lineOf(spectra, k * BIN_HZ) ?? [])
    .sort((a, b) => b.line - a.line)
}

function lineOf(spectra: readonly BandSpectrum[], frequencyHz: number): Candidate | undefined {
  const re = new Float64Array(length)
  const im = new Float64Array(length)
  spectra.forEach((spectrum, n) => {
    const piece = basebandOf(spectrum, frequencyHz, BAUD)
    for (let i = 0; i < HOP; i++) {
      const [a, b] = [piece.re[i]!, piece.im[i]!]
      re[n * HOP + i] = a * a - b * b
      im[n * HOP + i] = 2 * a * b
    }
  })
  fft.forward(re, im)
  const binHz = basebandHz(BAUD) / length
  const near = Math.round((2 * OFF_HZ) / binHz)
  const at = (bin: number) => re[(bin + length) % length]! ** 2 + im[(bin + length) % length]! ** 2
  let best = 0
  for (let bin = -near; bin <= near; bin++) if (at(bin) > at(best)) best = bin
  const symbolBins = Math.round(BAUD / binHz)
  // What lies around: between the lines that reversals make at the symbol rate.
  let around = 0
  let count = 0
  for (let bin = -2 * near; bin <= 2 * near; bin++) {
    const apart = Math.abs(bin - best)
    if (apart < 4 || Math.abs(apart - symbolBins) < 4) continue
    around += at(bin)
    count++
  }
  const line = at(best) / (around / count)
  return line >= LEAST_LINE ? { frequencyHz: frequencyHz + (best * binHz) / 2, line } : undefined
}

/**
 * The middle of a signal that was found. Reversals alone are two tones, half a symbol rate to either side, and each of them looks like
 * a signal of its own; but only from the middle there is as much on one side as on the other, whether it idles or sends text.
 */
export function middleOf(power: Float64Array, frequencyHz: number, baud: Baud = BAUD): number {
  const both = (hz: number) => Math.min(linePower(power, hz - baud / 2), linePower(power, hz + baud / 2))
  const places = [frequencyHz, frequencyHz - baud / 2, frequencyHz + baud / 2]
  return places.reduce((best, hz) => (both(hz) > both(best) ? hz : best))
}

/** How far from the edge of a receiver's passband its noise is told from within it. */
const EDGE_HZ = 450

/** Noise of a bin where a receiver's passband may end: beside its edge there is less than within. */
export const noiseWithin = (power: Float64Array, frequencyHz: number): number =>
  Math.max(noiseAbout(power, frequencyHz - EDGE_HZ), noiseAbout(power, frequencyHz), noiseAbout(power, frequencyHz + EDGE_HZ))

/** Power of a line: of the bin that holds it and its neighbours. */
export function linePower(power: Float64Array, hz: number): number {
  const k = Math.round(hz / BIN_HZ)
  return (power[k - 1] ?? 0) + (power[k] ?? 0) + (power[k + 1] ?? 0)
}

/** Mean power of the bins that a signal of a speed takes up. */
export function powerAcross(power: Float64Array, frequencyHz: number, baud: Baud): number {
  const [from, to] = [Math.round((frequencyHz - baud / 2) / BIN_HZ), Math.round((frequencyHz + baud / 2) / BIN_HZ)]
  let sum = 0
  for (let k = from; k <= to; k++) sum += power[k] ?? 0
  return sum / (to - from + 1)
}

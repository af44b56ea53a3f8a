import { createFft } from '../dsp'
import { BIN_HZ, HOP_SAMPLES, SPECTRUM_SAMPLES, type BandSpectrum } from './bandSpectra'
import { SAMPLE_RATE_HZ, type Baud } from './signal'

/** A signal whose bits are known: where it is, and each bit with the time of the symbol that it ends with. */
export interface KnownBits {
  frequencyHz: number
  baud: Baud
  steps: readonly { bit: number; atS: number }[]
}

/** It is fitted where it is strongest, and taken away as far as it spills over. */
const FITTED_HZ = 80
const TAKEN_HZ = 600
/** Amplitude and phase over the piece: constant, rising, and what the timing is off by. */
const TERMS = 3

const fft = createFft(SPECTRUM_SAMPLES)

/**
 * Takes a signal whose bits are known out of a spectrum: it is rebuilt from them, and its amplitude, phase, what these change by and
 * its timing are fitted.
 * @returns a spectrum without it; undefined when its bits are not known over all of the spectrum
 */
export function without(spectrum: BandSpectrum, known: KnownBits): BandSpectrum | undefined {
  const models = modelsOf(spectrum.n, known)
  if (!models) return undefined
  const gains = fit(spectrum, known.frequencyHz, models)
  if (!gains) return undefined
  const re = spectrum.re.slice()
  const im = spectrum.im.slice()
  const [from, to] = binsAbout(known.frequencyHz, TAKEN_HZ)
  models.forEach((model, j) => {
    const gain = gains[j]!
    for (let k = from; k <= to; k++) {
      re[k]! -= gain.re * model.re[k]! - gain.im * model.im[k]!
      im[k]! -= gain.re * model.im[k]! + gain.im * model.re[k]!
    }
  })
  return { n: spectrum.n, re, im }
}

const binsAbout = (hz: number, widthHz: number): [number, number] => [
  Math.max(1, Math.round((hz - widthHz) / BIN_HZ)),
  Math.min(SPECTRUM_SAMPLES / 2 - 1, Math.round((hz + widthHz) / BIN_HZ)),
]

interface Complex {
  re: Float64Array
  im: Float64Array
}

/** Spectra of the signal at amplitude 1, of the same rising over the piece, and of how it changes when its symbols come later. */
function modelsOf(n: number, { frequencyHz, baud, steps }: KnownBits): Complex[] | undefined {
  const startS = (HOP_SAMPLES * (n - 1)) / SAMPLE_RATE_HZ
  const endS = startS + SPECTRUM_SAMPLES / SAMPLE_RATE_HZ
  const symbolS = 1 / baud
  const first = steps.findIndex(({ atS }) => atS > startS - 1.5 * symbolS)
  const last = steps.findIndex(({ atS }) => atS > endS + symbolS)
  if (first < 0 || last < 0 || steps[first]!.atS > startS - 0.4 * symbolS) return undefined
  const envelope = new Float64Array(SPECTRUM_SAMPLES)
  const later = new Float64Array(SPECTRUM_SAMPLES)
  let sign = 1
  for (let k = first; k <= last; k++) {
    const { bit, atS } = steps[k]!
    if (k > first && bit === 0) sign = -sign
    const middle = (atS - startS) * SAMPLE_RATE_HZ
    const half = symbolS * SAMPLE_RATE_HZ
    const [from, to] = [Math.max(0, Math.ceil(middle - half)), Math.min(SPECTRUM_SAMPLES - 1, Math.floor(middle + half))]
    for (let i = from; i <= to; i++) {
      const along = (Math.PI * (i - middle)) / half
      envelope[i]! += (sign * (1 + Math.cos(along))) / 2
      later[i]! += (sign * Math.sin(along)) / 2
    }
  }
  const step = (2 * Math.PI * frequencyHz) / SAMPLE_RATE_HZ
  const models = Array.from({ length: TERMS }, () => ({ re: new Float64Array(SPECTRUM_SAMPLES), im: new Float64Array(SPECTRUM_SAMPLES) }))
  for (let i = 0; i < SPECTRUM_SAMPLES; i++) {
    const [cos, sin] = [Math.cos(step * i), Math.sin(step * i)]
    const rising = (2 * i) / SPECTRUM_SAMPLES - 1
    const values = [envelope[i]!, rising * envelope[i]!, later[i]!]
    for (let term = 0; term < TERMS; term++) {
      models[term]!.re[i] = values[term]! * cos
      models[term]!.im[i] = values[term]! * sin
    }
  }
  for (const { re, im } of models) fft.forward(re, im)
  return models
}

/** Complex gains of the models that leave the least of a spectrum about a frequency. */
function fit(spectrum: Complex, frequencyHz: number, models: readonly Complex[]): { re: number; im: number }[] | undefined {
  const [from, to] = binsAbout(frequencyHz, FITTED_HZ)
  const product = (a: Complex, b: Complex) => {
    let [re, im] = [0, 0]
    for (let k = from; k <= to; k++) {
      re += a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!
      im += a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!
    }
    return { re, im }
  }
  const rows = models.map((one) => [...models.map((other) => product(one, other)), product(one, spectrum)])
  return solved(rows)
}

/** Solves linear equations of complex numbers, each row with its right side at the end. */
function solved(rows: { re: number; im: number }[][]): { re: number; im: number }[] | undefined {
  const n = rows.length
  for (let k = 0; k < n; k++) {
    const pivot = rows[k]![k]!
    const size = pivot.re * pivot.re + pivot.im * pivot.im
    if (size < 1e-30) return undefined
    for (let j = 0; j < n; j++) {
      if (j === k) continue
      const at = rows[j]![k]!
      const factor = { re: (at.re * pivot.re + at.im * pivot.im) / size, im: (at.im * pivot.re - at.re * pivot.im) / size }
      for (let c = k; c <= n; c++) {
        const value = rows[k]![c]!
        rows[j]![c] = {
          re: rows[j]![c]!.re - (factor.re * value.re - factor.im * value.im),
          im: rows[j]![c]!.im - (factor.re * value.im + factor.im * value.re),
        }
      }
    }
  }
  return rows.map((row, k) => {
    const [pivot, right] = [row[k]!, row[n]!]
    const size = pivot.re * pivot.re + pivot.im * pivot.im
    return { re: (right.re * pivot.re + right.im * pivot.im) / size, im: (right.im * pivot.re - right.re * pivot.im) / size }
  })
}

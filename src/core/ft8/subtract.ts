import { tonePhase } from './modulate'
import { SYMBOL_COUNT, SYMBOL_S } from './signal'
import { BAND_CENTRE_HZ, type SymbolAmplitudes } from './demodulate'
import type { SlotSpectrum } from './slotSpectrum'

const { sin, cos, floor, min } = Math

/** 400 Hz around the signal hold its sidelobes down to where they no longer matter; 64 samples to a symbol. */
const BINS = 8192
const RATE_HZ = 400
const OVERSAMPLE = 4
/** Length of each of two running means that smooth the amplitude and phase track. */
const SMOOTH_SAMPLES = 96
const MIDDLE_S = (SYMBOL_COUNT * SYMBOL_S) / 2

/**
 * Takes a decoded signal out of the slot: its known tones are stripped off, what remains of its amplitude and phase
 * is smoothed into a track (so fading and small frequency errors are followed), and the signal so rebuilt is subtracted.
 */
export function subtractSignal(
  spectrum: SlotSpectrum,
  tones: ArrayLike<number>,
  { frequencyHz, startS, driftHzPerS }: Pick<SymbolAmplitudes, 'frequencyHz' | 'startS' | 'driftHzPerS'>,
): void {
  const band = spectrum.cut(frequencyHz + BAND_CENTRE_HZ, BINS)
  const offsetHz = frequencyHz - band.centreHz
  const fine = tonePhase(tones, RATE_HZ * OVERSAMPLE)
  const count = SYMBOL_COUNT * SYMBOL_S * RATE_HZ
  const first = Math.ceil(startS * RATE_HZ)
  const lag = first / RATE_HZ - startS
  const refRe = new Float64Array(count)
  const refIm = new Float64Array(count)
  const trackRe = new Float64Array(count)
  const trackIm = new Float64Array(count)
  const rampSamples = (SYMBOL_S * RATE_HZ) / 8
  for (let n = 0; n < count; n++) {
    const t = n / RATE_HZ + lag
    const at = min(fine.length - 1.001, t * RATE_HZ * OVERSAMPLE)
    const i = floor(at)
    const phase =
      fine[i]! +
      (at - i) * (fine[min(i + 1, fine.length - 1)]! - fine[i]!) +
      2 * Math.PI * offsetHz * t +
      Math.PI * driftHzPerS * (t - MIDDLE_S) ** 2
    const edge = min(n + lag * RATE_HZ, count - n)
    const shape = edge >= rampSamples ? 1 : 0.5 * (1 - cos((Math.PI * edge) / rampSamples))
    refRe[n] = shape * cos(phase)
    refIm[n] = shape * sin(phase)
    const m = first + n
    if (m < 0 || m >= BINS) continue
    const xr = band.re[m]!
    const xi = band.im[m]!
    trackRe[n] = xr * refRe[n]! + xi * refIm[n]!
    trackIm[n] = xi * refRe[n]! - xr * refIm[n]!
  }
  const weight = new Float64Array(count)
  for (let n = 0; n < count; n++) {
    const m = first + n
    weight[n] = m < 0 || m >= BINS ? 0 : refRe[n]! ** 2 + refIm[n]! ** 2
  }
  const smoothRe = runningMean(runningMean(trackRe, SMOOTH_SAMPLES), SMOOTH_SAMPLES)
  const smoothIm = runningMean(runningMean(trackIm, SMOOTH_SAMPLES), SMOOTH_SAMPLES)
  const smoothWeight = runningMean(runningMean(weight, SMOOTH_SAMPLES), SMOOTH_SAMPLES)
  for (let n = 0; n < count; n++) {
    const m = first + n
    if (m < 0 || m >= BINS || smoothWeight[n]! < 1e-6) continue
    const ar = smoothRe[n]! / smoothWeight[n]!
    const ai = smoothIm[n]! / smoothWeight[n]!
    band.re[m]! -= ar * refRe[n]! - ai * refIm[n]!
    band.im[m]! -= ar * refIm[n]! + ai * refRe[n]!
  }
  spectrum.putBack(band)
}

/** Sum over a window centred on each value; values beyond the ends count as 0. */
function runningMean(values: Float64Array, width: number): Float64Array {
  const out = new Float64Array(values.length)
  const half = width >> 1
  let sum = 0
  for (let i = 0; i < half && i < values.length; i++) sum += values[i]!
  for (let i = 0; i < values.length; i++) {
    if (i + half < values.length) sum += values[i + half]!
    if (i - half - 1 >= 0) sum -= values[i - half - 1]!
    out[i] = sum
  }
  return out
}

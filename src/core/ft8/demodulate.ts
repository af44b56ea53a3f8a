import { COSTAS, COSTAS_STARTS, DATA_SYMBOLS, SYMBOL_COUNT, TONE_COUNT, TONE_SPACING_HZ } from './signal'
import type { Baseband } from './slotSpectrum'

const { sqrt, cos, sin, max } = Math

/** Bins of the band in which one signal is demodulated: 200 Hz wide, 32 samples to a symbol. */
export const DEMODULATION_BINS = 4096
const SAMPLES = 32
/** The band is centred between the lowest and highest tone. */
export const BAND_CENTRE_HZ = 3.5 * TONE_SPACING_HZ

/** Tone amplitudes of one signal after fine synchronisation. */
export interface SymbolAmplitudes {
  /** re[symbol * 8 + tone] and im alike, phases continuous from symbol to symbol. */
  readonly re: Float64Array
  readonly im: Float64Array
  /** Mean power of the noise in one tone. */
  readonly noise: number
  /** Amplitude of the signal in its tone. */
  readonly amplitude: number
  /** How many of the 21 Costas symbols have their right tone strongest. */
  readonly costasHits: number
  /** Power of each symbol's strongest tone against the mean of its others: about 3.6 in noise, 4.9 at -21 dB. */
  readonly contrast: number
  /** Of the lowest tone, in the middle of the transmission. */
  readonly frequencyHz: number
  readonly startS: number
  readonly driftHzPerS: number
}

/** Cosines and sines of the eight tones over one symbol, relative to the band's centre. */
const toneCos = new Float64Array(TONE_COUNT * SAMPLES)
const toneSin = new Float64Array(TONE_COUNT * SAMPLES)
for (let tone = 0; tone < TONE_COUNT; tone++) {
  for (let n = 0; n < SAMPLES; n++) {
    const angle = (-2 * Math.PI * (tone * TONE_SPACING_HZ - BAND_CENTRE_HZ) * n) / 200
    toneCos[tone * SAMPLES + n] = cos(angle)
    toneSin[tone * SAMPLES + n] = sin(angle)
  }
}

/**
 * Each symbol lasts a whole number of periods of the tone spacing, so the phase of a tone at the start of a
 * symbol depends on the band's centre alone: 3.5 spacings, half a turn for every second symbol.
 */
const symbolSign = (symbol: number) => (symbol % 2 === 0 ? 1 : -1)

interface Fine {
  score: number
  startSample: number
  offsetHz: number
}

/** From the first sample of a transmission to its middle. */
const MIDDLE_S = (SYMBOL_COUNT * SAMPLES) / 200 / 2
/** From one Costas array to the next. */
const ARRAYS_APART_S = (36 * SAMPLES) / 200

const COSTAS_SYMBOLS = COSTAS_STARTS.flatMap((start) => COSTAS.map((tone, k) => ({ symbol: start + k, tone })))

/** Amplitudes of the 21 Costas tones for one start, with the band shifted down by `offsetHz`. */
function costasAmplitudes(band: Baseband, startSample: number, offsetHz: number, zRe: Float64Array, zIm: Float64Array): void {
  const { re, im } = band
  const last = re.length - SAMPLES
  const stepRe = cos((-2 * Math.PI * offsetHz) / 200)
  const stepIm = sin((-2 * Math.PI * offsetHz) / 200)
  for (let k = 0; k < 21; k++) {
    const { symbol, tone } = COSTAS_SYMBOLS[k]!
    const from = startSample + symbol * SAMPLES
    zRe[k] = 0
    zIm[k] = 0
    if (from < 0 || from > last) continue
    const table = tone * SAMPLES
    const angle = (-2 * Math.PI * offsetHz * symbol * SAMPLES) / 200
    let wr = cos(angle)
    let wi = sin(angle)
    let sumRe = 0
    let sumIm = 0
    for (let n = 0; n < SAMPLES; n++) {
      const xr = re[from + n]!
      const xi = im[from + n]!
      const c = toneCos[table + n]!
      const s = toneSin[table + n]!
      const vr = c * wr - s * wi
      const vi = c * wi + s * wr
      sumRe += xr * vr - xi * vi
      sumIm += xr * vi + xi * vr
      const next = wr * stepRe - wi * stepIm
      wi = wr * stepIm + wi * stepRe
      wr = next
    }
    const sign = symbolSign(symbol)
    zRe[k] = sign * sumRe
    zIm[k] = sign * sumIm
  }
}

const zRe = new Float64Array(21)
const zIm = new Float64Array(21)

/**
 * How well the amplitudes in zRe and zIm add up when each array is turned by a frequency of its own.
 * @param hz of the middle array @param apartHz from each array to the next
 */
function costasScore(hz: number, apartHz: number): number {
  let score = 0
  for (let array = 0; array < 3; array++) {
    const turn = -2 * Math.PI * (hz + (array - 1) * apartHz) * (SAMPLES / 200)
    const stepRe = cos(turn)
    const stepIm = sin(turn)
    // Horner's rule adds the seven amplitudes, each turned once more than the one before.
    let sumRe = 0
    let sumIm = 0
    for (let k = 7 * array + 6; k >= 7 * array; k--) {
      const next = sumRe * stepRe - sumIm * stepIm + zRe[k]!
      sumIm = sumRe * stepIm + sumIm * stepRe + zIm[k]!
      sumRe = next
    }
    score += sumRe * sumRe + sumIm * sumIm
  }
  return score
}

/**
 * Looks for the start and frequency at which the seven symbols of each Costas array add up best in phase.
 * The tones are measured once for each start; a small change of frequency then only turns them from symbol to symbol.
 */
function searchFine(band: Baseband, from: Fine, timeReach: number, timeStep: number, hzReach: number, hzStep: number): Fine {
  let best: Fine = { ...from, score: -1 }
  for (let d = -timeReach; d <= timeReach; d += timeStep) {
    const startSample = from.startSample + d
    costasAmplitudes(band, startSample, from.offsetHz, zRe, zIm)
    for (let hz = -hzReach; hz <= hzReach + 1e-9; hz += hzStep) {
      const score = costasScore(hz, 0)
      if (score > best.score) best = { score, startSample, offsetHz: from.offsetHz + hz }
    }
  }
  return best
}

/**
 * Synchronises finely on a band cut out around a candidate and measures the amplitudes of all tones.
 * @param band centred 21.875 Hz above the candidate's frequency, 200 samples a second
 */
export function measureSymbols(band: Baseband, startS: number): SymbolAmplitudes {
  return measureIfLikely(band, startS, 0)!
}

/** Slow drifts that are tried with every candidate; faster ones are looked for on their own. */
const SLOW_DRIFTS = [-0.45, -0.3, -0.15, 0.15, 0.3, 0.45]
/** By how much a drift has to fit better than none, so that noise does not make one up. */
const DRIFT_GAIN = 1.12

/** How fast the signal drifts, from the three arrays' frequencies; 0 unless that clearly fits better. */
function searchDrift(band: Baseband, fine: Fine): number {
  costasAmplitudes(band, fine.startSample, fine.offsetHz, zRe, zIm)
  let best = costasScore(0, 0) * DRIFT_GAIN
  let drift = 0
  for (const d of SLOW_DRIFTS) {
    // Where the middle array lies was found without a drift: it may be a little beside the truth.
    for (const hz of [-0.2, 0, 0.2]) {
      const score = costasScore(hz, d * ARRAYS_APART_S)
      if (score <= best) continue
      best = score
      drift = d
    }
  }
  return drift
}

/** Takes a drift out of a band, in place: afterwards the signal stays where it is in its middle. */
function straighten(band: Baseband, startSample: number, driftHzPerS: number): void {
  const { re, im, rateHz } = band
  for (let n = 0; n < re.length; n++) {
    const t = (n - startSample) / rateHz - MIDDLE_S
    const angle = -Math.PI * driftHzPerS * t * t
    const c = cos(angle)
    const s = sin(angle)
    const r = re[n]! * c - im[n]! * s
    im[n] = re[n]! * s + im[n]! * c
    re[n] = r
  }
}

/**
 * As `measureSymbols`, but nothing more is measured when the Costas arrays are not there.
 * @param band may be changed: drifts are taken out of it
 * @param knownDrift in Hz per second, when the candidate was found by its drift
 * @returns undefined when fewer than `fewestHits` of the 21 Costas symbols have their right tone strongest
 */
export function measureIfLikely(band: Baseband, startS: number, fewestHits: number, knownDrift = 0): SymbolAmplitudes | undefined {
  const rough: Fine = { score: 0, startSample: Math.round(startS * band.rateHz), offsetHz: 0 }
  if (knownDrift !== 0) straighten(band, rough.startSample, knownDrift)
  const middle = searchFine(band, rough, 6, 2, 2, 0.4)
  let fine = searchFine(band, middle, 1, 1, 0.4, 0.1)
  const re = new Float64Array(SYMBOL_COUNT * TONE_COUNT)
  const im = new Float64Array(SYMBOL_COUNT * TONE_COUNT)
  const measureArrays = () => {
    for (const { symbol } of COSTAS_SYMBOLS) measureTones(band, fine, symbol, re, im)
    return measureCostas(re, im)
  }
  let measured = measureArrays()
  // Most candidates are noise: they end here, after a quarter of the work.
  if (measured.costasHits < fewestHits) return undefined
  const slow = searchDrift(band, fine)
  if (slow !== 0) {
    straighten(band, fine.startSample, slow)
    fine = searchFine(band, fine, 1, 1, 0.5, 0.1)
    measured = measureArrays()
  }
  for (const symbol of DATA_SYMBOLS) measureTones(band, fine, symbol, re, im)
  return {
    re,
    im,
    ...measured,
    contrast: measureContrast(re, im),
    frequencyHz: band.centreHz - BAND_CENTRE_HZ + fine.offsetHz,
    startS: fine.startSample / band.rateHz,
    driftHzPerS: knownDrift + slow,
  }
}

const mixedRe = new Float64Array(SAMPLES)
const mixedIm = new Float64Array(SAMPLES)

/** Measures the eight tones of one symbol; what lies outside the band stays 0. */
function measureTones(band: Baseband, fine: Fine, symbol: number, re: Float64Array, im: Float64Array): void {
  const from = fine.startSample + symbol * SAMPLES
  if (from < 0 || from > band.re.length - SAMPLES) return
  const step = (-2 * Math.PI * fine.offsetHz) / 200
  const stepRe = cos(step)
  const stepIm = sin(step)
  let turnRe = cos(step * symbol * SAMPLES) * symbolSign(symbol)
  let turnIm = sin(step * symbol * SAMPLES) * symbolSign(symbol)
  for (let n = 0; n < SAMPLES; n++) {
    const xr = band.re[from + n]!
    const xi = band.im[from + n]!
    mixedRe[n] = xr * turnRe - xi * turnIm
    mixedIm[n] = xr * turnIm + xi * turnRe
    const next = turnRe * stepRe - turnIm * stepIm
    turnIm = turnRe * stepIm + turnIm * stepRe
    turnRe = next
  }
  for (let tone = 0; tone < TONE_COUNT; tone++) {
    const table = tone * SAMPLES
    let zr = 0
    let zi = 0
    for (let n = 0; n < SAMPLES; n++) {
      const c = toneCos[table + n]!
      const s = toneSin[table + n]!
      zr += mixedRe[n]! * c - mixedIm[n]! * s
      zi += mixedRe[n]! * s + mixedIm[n]! * c
    }
    re[symbol * TONE_COUNT + tone] = zr
    im[symbol * TONE_COUNT + tone] = zi
  }
}

function measureContrast(re: Float64Array, im: Float64Array): number {
  let strongestSum = 0
  let restSum = 0
  for (let row = 0; row < re.length; row += TONE_COUNT) {
    let strongest = 0
    let total = 0
    for (let tone = 0; tone < TONE_COUNT; tone++) {
      const power = re[row + tone]! ** 2 + im[row + tone]! ** 2
      total += power
      if (power > strongest) strongest = power
    }
    strongestSum += strongest
    restSum += (total - strongest) / (TONE_COUNT - 1)
  }
  return restSum > 0 ? strongestSum / restSum : 0
}

function measureCostas(re: Float64Array, im: Float64Array): { noise: number; amplitude: number; costasHits: number } {
  let signal = 0
  let rest = 0
  let symbols = 0
  let costasHits = 0
  for (const start of COSTAS_STARTS) {
    for (let k = 0; k < COSTAS.length; k++) {
      const row = (start + k) * TONE_COUNT
      let strongest = -1
      let strongestPower = 0
      let own = 0
      let total = 0
      for (let tone = 0; tone < TONE_COUNT; tone++) {
        const power = re[row + tone]! ** 2 + im[row + tone]! ** 2
        total += power
        if (tone === COSTAS[k]) own = power
        if (power > strongestPower) {
          strongestPower = power
          strongest = tone
        }
      }
      if (total === 0) continue
      symbols++
      signal += own
      rest += (total - own) / (TONE_COUNT - 1)
      if (strongest === COSTAS[k]) costasHits++
    }
  }
  if (symbols === 0 || rest === 0) return { noise: 1, amplitude: 0, costasHits: 0 }
  const noise = rest / symbols
  return { noise, amplitude: sqrt(max(signal / symbols - noise, 0.3 * noise)), costasHits }
}

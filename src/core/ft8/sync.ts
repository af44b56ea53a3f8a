import { createRealFft } from '../dsp/fft'
import { COSTAS, COSTAS_STARTS, NOMINAL_START_S, SAMPLES_PER_SYMBOL } from './signal'

/** Powers of short overlapping transforms: half a tone in frequency, a quarter of a symbol in time. */
export interface PowerGrid {
  readonly steps: number
  readonly bins: number
  /** power[step * bins + bin] */
  readonly power: Float32Array
}

export const GRID_BIN_HZ = 3.125
export const GRID_STEP_S = 0.04
const GRID_STEP = SAMPLES_PER_SYMBOL / 4
const GRID_FFT = SAMPLES_PER_SYMBOL * 2
const BINS_PER_TONE = 2
const STEPS_PER_SYMBOL = 4

const fft = createRealFft(GRID_FFT)

/**
 * Measures the grid: a symbol-long window (zero-padded to two) every quarter symbol.
 * @param samples 12 kHz audio
 * @param highestHz frequencies above are not kept
 */
export function measureGrid(samples: ArrayLike<number>, sampleCount: number, highestHz: number): PowerGrid {
  const steps = Math.max(0, Math.floor((sampleCount - SAMPLES_PER_SYMBOL) / GRID_STEP) + 1)
  const bins = Math.min(GRID_FFT / 2, Math.ceil(highestHz / GRID_BIN_HZ) + 2 * 8)
  const power = new Float32Array(steps * bins)
  const block = new Float64Array(GRID_FFT)
  const re = new Float64Array(GRID_FFT / 2 + 1)
  const im = new Float64Array(GRID_FFT / 2 + 1)
  for (let step = 0; step < steps; step++) {
    const from = step * GRID_STEP
    for (let i = 0; i < SAMPLES_PER_SYMBOL; i++) block[i] = samples[from + i]!
    fft.forward(block, re, im)
    const row = step * bins
    for (let b = 0; b < bins; b++) power[row + b] = re[b]! * re[b]! + im[b]! * im[b]!
  }
  return { steps, bins, power }
}

/** A place where a signal may be. */
export interface Candidate {
  /** Frequency of the lowest tone, to within half a grid bin. */
  frequencyHz: number
  /** Start of the transmission in seconds after the first sample, to within half a grid step. */
  startS: number
  /** Mean power of the Costas tones against that of the other tones; about 1 in noise. */
  syncRatio: number
}

export interface SyncSearch {
  lowestHz: number
  highestHz: number
  /** Where the slot starts in the audio, in seconds. */
  slotStartS: number
  /** How far from its nominal start a transmission is looked for. */
  searchS: number
  minimumRatio: number
  maximumCandidates: number
  /** How many starts are kept at one frequency. Default 3, enough for one slot. */
  peaksPerFrequency?: number
}

/** Lags (in grid steps) nearer than this to a better candidate at the same frequency are the same signal. */
const SAME_SIGNAL_STEPS = 3

/** Finds candidates by their Costas arrays, the most certain first. */
export function findCandidates(grid: PowerGrid, search: SyncSearch): Candidate[] {
  const { power, bins, steps } = grid
  const nominal = (search.slotStartS + NOMINAL_START_S) / GRID_STEP_S
  const firstLag = Math.ceil(nominal - search.searchS / GRID_STEP_S)
  const lastLag = Math.floor(nominal + search.searchS / GRID_STEP_S)
  const firstBin = Math.max(0, Math.round(search.lowestHz / GRID_BIN_HZ))
  const lastBin = Math.min(bins - 1 - 2 * 7, Math.round(search.highestHz / GRID_BIN_HZ))
  const lags = lastLag - firstLag + 1
  const width = lastBin - firstBin + 1
  if (lags <= 0 || width <= 0) return []

  // Sum of the seven tones that a Costas array uses, at every place of the grid.
  const tone7 = new Float32Array(steps * bins)
  for (let step = 0; step < steps; step++) {
    const row = step * bins
    for (let b = firstBin; b <= lastBin; b++) {
      let sum = 0
      for (let k = 0; k < 7; k++) sum += power[row + b + BINS_PER_TONE * k]!
      tone7[row + b] = sum
    }
  }

  const ratios = new Float32Array(lags * width)
  const costas = new Float32Array(width)
  const all = new Float32Array(width)
  for (let l = 0; l < lags; l++) {
    const lag = firstLag + l
    costas.fill(0)
    all.fill(0)
    let arrays = 0
    for (const start of COSTAS_STARTS) {
      for (let k = 0; k < COSTAS.length; k++) {
        const step = lag + STEPS_PER_SYMBOL * (start + k)
        if (step < 0 || step >= steps) continue
        arrays++
        const tone = step * bins + firstBin + BINS_PER_TONE * COSTAS[k]!
        const sum = step * bins + firstBin
        for (let b = 0; b < width; b++) {
          costas[b]! += power[tone + b]!
          all[b]! += tone7[sum + b]!
        }
      }
    }
    if (arrays < 10) continue
    // Fewer symbols scatter more; weighing by their share keeps a cut signal from beating a whole one by chance.
    const trust = Math.sqrt(arrays / 21)
    for (let b = 0; b < width; b++) {
      const rest = (all[b]! - costas[b]!) / 6
      const ratio = rest > 0 ? costas[b]! / rest : 0
      ratios[l * width + b] = 1 + (ratio - 1) * trust
    }
  }

  const found: Candidate[] = []
  for (let b = 0; b < width; b++) {
    const peaks: { l: number; ratio: number }[] = []
    for (let l = 0; l < lags; l++) {
      const ratio = ratios[l * width + b]!
      if (ratio < search.minimumRatio) continue
      if (beaten(ratios, l, b, lags, width, ratio)) continue
      peaks.push({ l, ratio })
    }
    peaks.sort((x, y) => y.ratio - x.ratio)
    for (const peak of peaks.slice(0, search.peaksPerFrequency ?? 3)) {
      found.push({ frequencyHz: (firstBin + b) * GRID_BIN_HZ, startS: (firstLag + peak.l) * GRID_STEP_S, syncRatio: peak.ratio })
    }
  }
  found.sort((x, y) => y.syncRatio - x.syncRatio)
  return found.slice(0, search.maximumCandidates)
}

/** Tells whether a neighbour on the grid, close enough to be the same signal, fits better. */
function beaten(ratios: Float32Array, l: number, b: number, lags: number, width: number, ratio: number): boolean {
  for (let db = -1; db <= 1; db++) {
    const bin = b + db
    if (bin < 0 || bin >= width) continue
    for (let dl = -SAME_SIGNAL_STEPS; dl <= SAME_SIGNAL_STEPS; dl++) {
      const lag = l + dl
      if (lag < 0 || lag >= lags || (dl === 0 && db === 0)) continue
      const other = ratios[lag * width + bin]!
      if (other > ratio || (other === ratio && (db < 0 || (db === 0 && dl < 0)))) return true
    }
  }
  return false
}

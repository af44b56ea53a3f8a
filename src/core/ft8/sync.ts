import { GRID_BIN_HZ, GRID_STEP_S, type PowerGrid } from './powerGrid'
import { COSTAS, COSTAS_STARTS, NOMINAL_START_S, SYMBOL_S } from './signal'

const BINS_PER_TONE = 2
const STEPS_PER_SYMBOL = 4

/** Drift of a signal that moves by one bin from one Costas array to the next, 36 symbols on. */
export const DRIFT_HZ_PER_S = GRID_BIN_HZ / (36 * SYMBOL_S)

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
  /**
   * By how many bins a signal has moved from one Costas array to the next; about 0.54 Hz per second for each. Default 0.
   * The frequency found is that of the middle array.
   */
  driftBins?: number
  /** Only candidates within `withinHz` of one of these are looked for. */
  near?: { placesHz: readonly number[]; withinHz: number }
  /** How many starts are kept at one frequency. Default 3, enough for one slot. */
  peaksPerFrequency?: number
}

/** Lags (in grid steps) nearer than this to a better candidate at the same frequency are the same signal. */
const SAME_SIGNAL_STEPS = 3

const sums = new WeakMap<PowerGrid, Float32Array>()

/** Sum of the seven tones that a Costas array uses, at every place of the grid; kept for further looks at it. */
function sumOfSeven(grid: PowerGrid): Float32Array {
  let tone7 = sums.get(grid)
  if (tone7) return tone7
  const { power, bins, steps } = grid
  tone7 = new Float32Array(steps * bins)
  for (let step = 0; step < steps; step++) {
    const row = step * bins
    for (let b = 0; b < bins - BINS_PER_TONE * 6; b++) {
      let sum = 0
      for (let k = 0; k < 7; k++) sum += power[row + b + BINS_PER_TONE * k]!
      tone7[row + b] = sum
    }
  }
  sums.set(grid, tone7)
  return tone7
}

/** Finds candidates by their Costas arrays, the most certain first. */
export function findCandidates(grid: PowerGrid, search: SyncSearch): Candidate[] {
  const { power, bins, steps } = grid
  const nominal = (search.slotStartS + NOMINAL_START_S) / GRID_STEP_S
  const firstLag = Math.ceil(nominal - search.searchS / GRID_STEP_S)
  const lastLag = Math.floor(nominal + search.searchS / GRID_STEP_S)
  const { driftBins = 0 } = search
  const moved = Math.abs(driftBins)
  const firstBin = Math.max(moved, Math.round(search.lowestHz / GRID_BIN_HZ))
  const lastBin = Math.min(bins - 1 - 2 * 7 - moved, Math.round(search.highestHz / GRID_BIN_HZ))
  const lags = lastLag - firstLag + 1
  const width = lastBin - firstBin + 1
  if (lags <= 0 || width <= 0) return []

  const tone7 = sumOfSeven(grid)
  const stretches = stretchesNear(search.near, firstBin, width)
  const ratios = new Float32Array(lags * width)
  const costas = new Float32Array(width)
  const all = new Float32Array(width)
  for (let l = 0; l < lags; l++) {
    const lag = firstLag + l
    costas.fill(0)
    all.fill(0)
    let arrays = 0
    for (let array = 0; array < COSTAS_STARTS.length; array++) {
      const start = COSTAS_STARTS[array]!
      const shift = firstBin + (array - 1) * driftBins
      for (let k = 0; k < COSTAS.length; k++) {
        const step = lag + STEPS_PER_SYMBOL * (start + k)
        if (step < 0 || step >= steps) continue
        arrays++
        const tone = step * bins + shift + BINS_PER_TONE * COSTAS[k]!
        const sum = step * bins + shift
        for (const { from, to } of stretches) {
          for (let b = from; b < to; b++) {
            costas[b]! += power[tone + b]!
            all[b]! += tone7[sum + b]!
          }
        }
      }
    }
    if (arrays < 10) continue
    // Fewer symbols scatter more; weighing by their share keeps a cut signal from beating a whole one by chance.
    const trust = Math.sqrt(arrays / 21)
    for (const { from, to } of stretches)
      for (let b = from; b < to; b++) {
        const rest = (all[b]! - costas[b]!) / 6
        const ratio = rest > 0 ? costas[b]! / rest : 0
        ratios[l * width + b] = 1 + (ratio - 1) * trust
      }
  }

  const found: Candidate[] = []
  for (const { from, to } of stretches)
    for (let b = from; b < to; b++) {
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

/** The bins (counted from `firstBin`) that are looked at, as stretches that do not overlap. */
function stretchesNear(near: SyncSearch['near'], firstBin: number, width: number): { from: number; to: number }[] {
  if (!near) return [{ from: 0, to: width }]
  const reach = Math.round(near.withinHz / GRID_BIN_HZ)
  const stretches: { from: number; to: number }[] = []
  for (const hz of [...near.placesHz].sort((a, b) => a - b)) {
    const middle = Math.round(hz / GRID_BIN_HZ) - firstBin
    const from = Math.max(0, middle - reach)
    const to = Math.min(width, middle + reach + 1)
    const last = stretches[stretches.length - 1]
    if (last && from <= last.to) last.to = Math.max(last.to, to)
    else if (from < to) stretches.push({ from, to })
  }
  return stretches
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

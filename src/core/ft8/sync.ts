import { BINS_PER_TONE, costasSums, joined, STEPS_BEFORE, STEPS_PER_SYMBOL } from './costasSums'
import { GRID_BIN_HZ, GRID_STEP_S, type PowerGrid } from './powerGrid'
import { COSTAS, COSTAS_STARTS, NOMINAL_START_S, SYMBOL_S, TONE_COUNT } from './signal'

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
  /** Of the 21 Costas symbols, so many must have their own tone strongest on the grid. Default 0. */
  minimumHits?: number
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

/** Finds candidates by their Costas arrays, the most certain first. */
export function findCandidates(grid: PowerGrid, search: SyncSearch): Candidate[] {
  const { bins, steps } = grid
  const nominal = (search.slotStartS + NOMINAL_START_S) / GRID_STEP_S
  const firstLag = Math.ceil(nominal - search.searchS / GRID_STEP_S)
  const lastLag = Math.floor(nominal + search.searchS / GRID_STEP_S)
  const { driftBins = 0, minimumHits = 0 } = search
  const moved = Math.abs(driftBins)
  const firstBin = Math.max(moved, Math.round(search.lowestHz / GRID_BIN_HZ))
  const lastBin = Math.min(bins - 1 - 2 * 7 - moved, Math.round(search.highestHz / GRID_BIN_HZ))
  const lags = lastLag - firstLag + 1
  const width = lastBin - firstBin + 1
  if (lags <= 0 || width <= 0) return []

  const { own, all, symbols } = costasSums(grid)
  const stretches = stretchesNear(search.near, firstBin, width)
  const ratios = new Float32Array(lags * width)
  const beside = steps + STEPS_BEFORE
  for (let l = 0; l < lags; l++) {
    const [r0, r1, r2] = COSTAS_STARTS.map((start) => {
      const row = firstLag + l + STEPS_PER_SYMBOL * start + STEPS_BEFORE
      return row >= 0 && row < beside ? row : beside
    }) as [number, number, number]
    const arrays = symbols[r0]! + symbols[r1]! + symbols[r2]!
    if (arrays < 10) continue
    // Fewer symbols scatter more; weighing by their share keeps a cut signal from beating a whole one by chance.
    const trust = Math.sqrt(arrays / 21)
    const p0 = r0 * bins + firstBin - driftBins
    const p1 = r1 * bins + firstBin
    const p2 = r2 * bins + firstBin + driftBins
    for (const { from, to } of stretches)
      for (let b = from; b < to; b++) {
        const costas = own[p0 + b]! + own[p1 + b]! + own[p2 + b]!
        const rest = (all[p0 + b]! + all[p1 + b]! + all[p2 + b]! - costas) / 6
        const ratio = rest > 0 ? costas / rest : 0
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
  if (minimumHits === 0) return found.slice(0, search.maximumCandidates)
  const likely: Candidate[] = []
  for (const candidate of found) {
    if (likely.length >= search.maximumCandidates) break
    if (countHits(grid, candidate, driftBins) >= minimumHits) likely.push(candidate)
  }
  return likely
}

/** How many of the 21 Costas symbols have their own tone strongest on the grid: 2.6 in noise, some 12 at -21 dB. */
function countHits({ power, bins, steps }: PowerGrid, { frequencyHz, startS }: Candidate, driftBins: number): number {
  const lag = Math.round(startS / GRID_STEP_S)
  const bin = Math.round(frequencyHz / GRID_BIN_HZ)
  let hits = 0
  COSTAS_STARTS.forEach((start, array) => {
    for (let k = 0; k < COSTAS.length; k++) {
      const step = lag + STEPS_PER_SYMBOL * (start + k)
      if (step < 0 || step >= steps) continue
      const lowest = step * bins + bin + (array - 1) * driftBins
      const own = power[lowest + BINS_PER_TONE * COSTAS[k]!]!
      let tone = 0
      while (tone < TONE_COUNT && power[lowest + BINS_PER_TONE * tone]! <= own) tone++
      if (tone === TONE_COUNT && own > 0) hits++
    }
  })
  return hits
}

/** The bins (counted from `firstBin`) that are looked at, as stretches that do not overlap. */
function stretchesNear(near: SyncSearch['near'], firstBin: number, width: number): { from: number; to: number }[] {
  if (!near) return [{ from: 0, to: width }]
  const reach = Math.round(near.withinHz / GRID_BIN_HZ)
  return joined(
    near.placesHz.map((hz) => {
      const middle = Math.round(hz / GRID_BIN_HZ) - firstBin
      return { from: Math.max(0, middle - reach), to: Math.min(width, middle + reach + 1) }
    }),
  )
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

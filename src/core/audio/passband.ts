import { powerToDb, quantile, quantileInPlace } from './quantile'
import { BIN_HZ, BINS } from './spectrumHistory'

/** The floor is taken from the quietest stretch of this many rows, 1.1 s: the pause between slots, when there is one. */
const QUIET_ROWS = 13
/** Bins on either side that smooth the floor; a line or a weak signal is narrower. */
const REACH = 4
/** The floor is the 35th percentile of the passband, so that signals in six tenths of it do not lift it. */
const SHARE = 0.35
/**
 * What the choices above take away from the mean of plain noise: of all stretches the quietest, a median of
 * nine, the 35th percentile. Measured on noise by the test of this file.
 */
const SELECTION_DB = 0.36
/** The passband ends where the noise has fallen by this much. */
const EDGE_DB = 6
/** Bins this far below the strongest are surely outside. */
const OUTSIDE_DB = 14
/** Gaps up to this wide belong to the passband: a notch, or two signals that cancel. */
const LARGEST_GAP_HZ = 120
/** Below this the input's own coupling decides, not a filter. */
const LOWEST_BIN = 3
/** Below about 200 Hz hum and rumble decide how much power there is. */
const LOWEST_SIGNAL_BIN = 34
/** Nothing above this is measured: the resampler begins to fall. */
const HIGHEST_HZ = 5550

/** The noise between the signals. */
export interface NoiseFloor {
  /** Density of the noise in the passband, dB below full scale² per Hz. */
  dbfsPerHz: number
  /** Where the passband begins and ends; null when there is no noise to tell it by. */
  passbandHz: [number, number] | null
  /** Smoothed density of each bin in the quietest stretch, linear. */
  density: Float32Array
}

/**
 * Finds the noise floor and the passband in rows of a spectrum history.
 * @param rows at least one
 * @param between density of the noise for each Hz where lines of hum stand too close for these spectra to look between them
 */
export function measureNoiseFloor(rows: readonly Float32Array[], between: Float32Array = new Float32Array(0)): NoiseFloor {
  const quietRow = quietestStretch(rows)
  const stretch = rows.slice(quietRow, quietRow + QUIET_ROWS)
  const mean = new Float32Array(BINS)
  for (const row of stretch) for (let bin = 0; bin < BINS; bin++) mean[bin]! += row[bin]! / stretch.length
  for (let bin = 0; bin * BIN_HZ < between.length; bin++) mean[bin] = Math.min(mean[bin]!, between[Math.floor(bin * BIN_HZ)]!)
  const density = smooth(mean)
  const top = Math.floor(HIGHEST_HZ / BIN_HZ)
  const inside = density.subarray(LOWEST_BIN, top)
  const strongest = quantile(inside, 0.95)
  if (!(strongest > 0)) return { dbfsPerHz: -Infinity, passbandHz: null, density }
  const near = inside.filter((power) => power > strongest * 10 ** (-OUTSIDE_DB / 10))
  const floor = quantileInPlace(near, SHARE)
  const passbandHz = findEdges(density, floor, top)
  const from = Math.max(LOWEST_BIN, Math.ceil((passbandHz?.[0] ?? 0) / BIN_HZ))
  const to = Math.min(top, Math.floor((passbandHz?.[1] ?? HIGHEST_HZ) / BIN_HZ))
  const within = to - from > 8 ? quantile(density.subarray(from, to), SHARE) : floor
  return { dbfsPerHz: powerToDb(within) + SELECTION_DB, passbandHz, density }
}

/** A row this far below the loudest was muted: no receiver has so much room below its noise. */
const MUTED = 1e-9

/** Where the sum of rows is smallest; rows that are silent altogether are no noise. */
function quietestStretch(rows: readonly Float32Array[]): number {
  // Power, not its logarithm: where strong signals hold an automatic gain down, most bins are low and yet it is no pause.
  const energy = rows.map((row) => {
    let sum = 0
    for (let bin = LOWEST_SIGNAL_BIN; bin < BINS; bin++) sum += row[bin]!
    return sum
  })
  // What was muted or lost is no noise of the band.
  const loudest = Math.max(...energy)
  // Rows beside a pause hold a part of it.
  const muted = (at: number) => energy.slice(Math.max(0, at - 2), at + QUIET_ROWS + 2).some((sum) => sum < loudest * MUTED)
  let best = 0
  let lowest = Infinity
  for (let at = 0; at + QUIET_ROWS <= rows.length; at++) {
    let sum = 0
    for (let i = at; i < at + QUIET_ROWS; i++) sum += energy[i]!
    if (sum < lowest && !muted(at)) {
      lowest = sum
      best = at
    }
  }
  return best
}

function smooth(mean: Float32Array): Float32Array {
  const out = new Float32Array(BINS)
  const around = new Float32Array(2 * REACH + 1)
  for (let bin = 0; bin < BINS; bin++) {
    const from = Math.max(0, Math.min(BINS - around.length, bin - REACH))
    around.set(mean.subarray(from, from + around.length))
    out[bin] = around.sort()[REACH]!
  }
  return out
}

function findEdges(density: Float32Array, floor: number, top: number): [number, number] | null {
  const limit = floor * 10 ** (-EDGE_DB / 10)
  const gap = Math.round(LARGEST_GAP_HZ / BIN_HZ)
  let best: [number, number] | undefined
  let from = -1
  let last = -1
  const end = () => {
    if (from >= 0 && (!best || last - from > best[1] - best[0])) best = [from, last]
  }
  for (let bin = LOWEST_BIN; bin < top; bin++) {
    if (density[bin]! < limit) continue
    if (from < 0 || bin - last > gap) {
      end()
      from = bin
    }
    last = bin
  }
  end()
  if (!best) return null
  const cross = (outside: number, inside: number) => {
    const a = density[outside]!
    const b = density[inside]!
    const share = b > a ? (limit - a) / (b - a) : 0.5
    return (outside + share * (inside - outside)) * BIN_HZ
  }
  const low = best[0] <= LOWEST_BIN ? 0 : cross(best[0] - 1, best[0])
  // Noise that goes on to the end of what is measured goes on beyond it.
  const high = best[1] >= top - 1 ? (BINS - 1) * BIN_HZ : cross(best[1] + 1, best[1])
  return [low, high]
}

import { GRID_BIN_HZ, type PowerGrid } from './powerGrid'

const SPAN_BINS = 64
/** The quantile of an exponential distribution at 0.25 is this share of its mean. */
const QUARTILE_OF_MEAN = -Math.log(0.75)

/**
 * Estimates the noise power of a grid cell at each frequency: the lower quartile over time and the bins around,
 * which a crowd of signals hardly lifts, scaled to the mean that noise with this quartile has.
 * @returns a function from hertz to mean power of one cell
 */
export function estimateNoiseFloor(grid: PowerGrid): (frequencyHz: number) => number {
  const { power, bins, steps } = grid
  const sections = Math.max(1, Math.ceil(bins / SPAN_BINS))
  const floors = new Float64Array(sections)
  // Every fourth step: windows overlap by three quarters, so those between tell little more.
  const rows = Math.ceil(steps / 4)
  for (let section = 0; section < sections; section++) {
    const from = section * SPAN_BINS
    const to = Math.min(bins, from + SPAN_BINS)
    const values = new Float32Array(rows * (to - from))
    let n = 0
    for (let step = 0; step < steps; step += 4) {
      for (let b = from; b < to; b++) {
        const value = power[step * bins + b]!
        if (value > 0) values[n++] = value
      }
    }
    const sorted = values.subarray(0, n).sort()
    floors[section] = n === 0 ? 1e-12 : sorted[n >> 2]! / QUARTILE_OF_MEAN
  }
  return (frequencyHz) => {
    const at = frequencyHz / GRID_BIN_HZ / SPAN_BINS - 0.5
    const i = Math.max(0, Math.min(sections - 1, Math.floor(at)))
    const j = Math.max(0, Math.min(sections - 1, i + 1))
    const share = Math.max(0, Math.min(1, at - i))
    return floors[i]! * (1 - share) + floors[j]! * share
  }
}

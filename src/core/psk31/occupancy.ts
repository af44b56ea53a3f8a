import { BIN_HZ } from './bandSpectra'
import { noiseWithin } from './search'
import { BAND_HZ } from './signal'

/** How full the band is, is told for places so far apart. */
export const OCCUPANCY_STEP_HZ = 20
/** What a conversation of ours would take up, to either side. */
const HALF_WIDTH_HZ = 40
/** A place counts as clear with no more than this over the noise. */
const CLEAR_DB = 3
/** What is not clear may still be clearer, by at least so much. */
const CLEARER_DB = 6

/** Strongest power about each place over the noise of the band, in dB, from the low end of the band up. */
export function occupancyOf(power: Float64Array): number[] {
  const [from, to] = BAND_HZ
  const half = Math.round(HALF_WIDTH_HZ / BIN_HZ)
  const out: number[] = []
  for (let hz = from; hz <= to; hz += OCCUPANCY_STEP_HZ) {
    const middle = Math.round(hz / BIN_HZ)
    const noise = noiseWithin(power, hz)
    // Means over three bins: single ones of noise scatter by several dB.
    let most = 0
    for (let k = middle - half; k <= middle + half; k++)
      most = Math.max(most, ((power[k - 1] ?? 0) + (power[k] ?? 0) + (power[k + 1] ?? 0)) / 3)
    out.push(noise > 0 ? Math.round(100 * Math.log10(Math.max(most / noise, 1e-3))) / 10 : 0)
  }
  return out
}

/**
 * The nearest place that is clear, or much clearer than where one is.
 * @param theirs whether the one worked is there: then only what is beside it is in the way
 * @returns undefined where one is clear already, or nothing near is better
 */
export function clearNear(
  occupancy: readonly number[],
  frequencyHz: number,
  { withinHz, theirs = false }: { withinHz: number; theirs?: boolean },
): number | undefined {
  const at = (hz: number) => occupancy[Math.round((hz - BAND_HZ[0]) / OCCUPANCY_STEP_HZ)]
  const beside = [at(frequencyHz - 2 * HALF_WIDTH_HZ), at(frequencyHz + 2 * HALF_WIDTH_HZ)].filter((db) => db !== undefined)
  const here = theirs ? (beside.length > 0 ? Math.max(...beside) : undefined) : at(frequencyHz)
  if (here === undefined || here <= CLEAR_DB) return undefined
  const near = occupancy
    .map((db, k) => ({ db, hz: BAND_HZ[0] + k * OCCUPANCY_STEP_HZ }))
    .map((one) => ({ ...one, apart: Math.abs(one.hz - frequencyHz) }))
    .filter(({ apart }) => apart >= 2 * HALF_WIDTH_HZ && apart <= withinHz)
    .sort((a, b) => a.apart - b.apart)
  const clear = near.find(({ db }) => db <= CLEAR_DB)
  if (clear) return clear.hz
  const least = near.reduce<(typeof near)[number] | undefined>((best, one) => (!best || one.db < best.db ? one : best), undefined)
  return least && least.db <= here - CLEARER_DB ? least.hz : undefined
}

import type { ClockReading } from './clockReading'
import { TYPICAL_WANDER_PPM, UNKNOWN_DRIFT_PPM } from './holdover'

/** Rate of true time against the monotonic clock, less one, in ppm: positive when the monotonic clock runs slow. */
export interface Drift {
  ppm: number
  /** 95 % half-width. */
  uncertaintyPpm: number
  /** How much the rate changes by itself, 95 %. */
  wanderPpm: number
}

/** Before anything was measured. */
export const UNKNOWN_DRIFT: Drift = { ppm: 0, uncertaintyPpm: UNKNOWN_DRIFT_PPM, wanderPpm: TYPICAL_WANDER_PPM }

/** A drift learned in an earlier session is worth this much less: the device was somewhere else, at another temperature. */
const REMEMBERED_EXTRA_PPM = 4

/** Takes up what was learned of this device before. */
export function rememberedDrift(drift: Drift): Drift {
  return { ...drift, uncertaintyPpm: Math.min(UNKNOWN_DRIFT_PPM, Math.hypot(drift.uncertaintyPpm, REMEMBERED_EXTRA_PPM)) }
}

const FEWEST_POINTS = 3

/**
 * Learns the drift from how each source's readings move against the monotonic clock. An error that a source always has
 * does not matter here: only its readings among themselves are compared.
 * @param bySource readings of each source, by rising time
 * @param prior what was known before any of them
 */
export function estimateDrift(bySource: Iterable<readonly ClockReading[]>, prior: Drift): Drift {
  let weights = (2 / prior.uncertaintyPpm) ** 2
  let sum = prior.ppm * weights
  for (const readings of bySource) {
    const slope = fitSlope(independent(readings.filter((r) => r.doubt === undefined)))
    if (!slope) continue
    // The rate that held over the last hour or two need not hold now.
    const sigma = Math.hypot(slope.sigmaPpm, prior.wanderPpm / 8)
    const weight = 1 / sigma ** 2
    weights += weight
    sum += slope.ppm * weight
  }
  return { ...prior, ppm: sum / weights, uncertaintyPpm: 2 / Math.sqrt(weights) }
}

/** Readings whose evidence does not overlap, the newest first. */
export function independent(readings: readonly ClockReading[]): ClockReading[] {
  const taken: ClockReading[] = []
  let before = Infinity
  for (let i = readings.length - 1; i >= 0; i--) {
    const reading = readings[i]!
    if (reading.monotonicMs > before) continue
    taken.push(reading)
    before = reading.monotonicMs - reading.windowMs
  }
  return taken
}

/** Weighted straight line; its error from the stated errors or from the scatter about the line, whichever is larger. */
function fitSlope(readings: readonly ClockReading[]): { ppm: number; sigmaPpm: number } | undefined {
  if (readings.length < FEWEST_POINTS) return undefined
  const origin = readings[0]!
  const points = readings.map((r) => ({
    x: r.monotonicMs - origin.monotonicMs,
    y: r.utcMs - r.monotonicMs - (origin.utcMs - origin.monotonicMs),
    w: 1 / Math.max(1, r.randomMs / 2) ** 2,
  }))
  const total = points.reduce((s, p) => s + p.w, 0)
  const meanX = points.reduce((s, p) => s + p.w * p.x, 0) / total
  const meanY = points.reduce((s, p) => s + p.w * p.y, 0) / total
  const sxx = points.reduce((s, p) => s + p.w * (p.x - meanX) ** 2, 0)
  if (sxx <= 0) return undefined
  const slope = points.reduce((s, p) => s + p.w * (p.x - meanX) * (p.y - meanY), 0) / sxx
  const chi = points.reduce((s, p) => s + p.w * (p.y - meanY - slope * (p.x - meanX)) ** 2, 0) / (points.length - 2)
  const ppm = slope * 1e6
  // What no crystal does is no drift: a source that was set or fell asleep.
  if (Math.abs(ppm) > 500) return undefined
  return { ppm, sigmaPpm: 1e6 * Math.sqrt(Math.max(1, chi) / sxx) }
}

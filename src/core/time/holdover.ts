/**
 * What is known of a clock since it was last set. All figures are half-widths of 95 % intervals.
 */
export interface Holdover {
  /** Error when it was set. */
  baseMs: number
  /** Error of the drift rate that was taken into account. */
  driftPpm: number
  /** How much the rate itself may change with temperature and supply while nobody looks. */
  wanderPpm: number
  /** How old the readings were, on average, from which it was set: an error of the rate has acted for that long already. */
  driftAgeMs?: number
}

/** An ordinary crystal that has never been measured lies within this. */
export const UNKNOWN_DRIFT_PPM = 40
/** A crystal carried from a tent into the sun changes its rate by about this much. */
export const TYPICAL_WANDER_PPM = 5

/** The thresholds for which a screen says "good until". */
export const THRESHOLDS_MS = [200, 500, 1000] as const

/**
 * Half-width of the 95 % interval after some time without readings: three independent errors, added as squares. An error
 * of the rate that acted for an age a before is part of `baseMs` and goes on: d²(t + a)² - d²a² = d²t(t + 2a).
 */
export function uncertaintyAfter({ baseMs, driftPpm, wanderPpm, driftAgeMs = 0 }: Holdover, elapsedMs: number): number {
  const t = Math.abs(elapsedMs)
  return Math.sqrt(baseMs ** 2 + (driftPpm * 1e-6) ** 2 * t * (t + 2 * driftAgeMs) + (wanderPpm * 1e-6 * t) ** 2)
}

/** How long the uncertainty stays within a threshold; undefined when it is above already, Infinity when it never grows. */
export function goodFor({ baseMs, driftPpm, wanderPpm, driftAgeMs = 0 }: Holdover, thresholdMs: number): number | undefined {
  if (baseMs > thresholdMs) return undefined
  const squared = (driftPpm ** 2 + wanderPpm ** 2) * 1e-12
  if (squared === 0) return Infinity
  const half = (driftPpm * 1e-6) ** 2 * driftAgeMs
  return (Math.sqrt(half ** 2 + squared * (thresholdMs ** 2 - baseMs ** 2)) - half) / squared
}

import { median } from './weightedMedian'

/** What one tap marks on the watch. */
export type WatchUnit = 'second' | 'minute'
const UNIT_MS: Record<WatchUnit, number> = { second: 1000, minute: 60_000 }

export interface TapEstimate {
  /** UTC minus the monotonic clock, to within whole units. */
  offsetMs: number
  /** Scatter of the single taps (standard deviation). */
  spreadMs: number
  /** 95 % half-width of the mean of the taps, without the reaction's bias. */
  randomMs: number
  taps: number
}

/** A person who taps to a rhythm is this regular at best; fewer taps cannot prove better. */
const LEAST_SPREAD_MS = 15
const FEWEST_TAPS = 2
export const MOST_TAPS = 60

/**
 * Turns taps on a watch into an offset. Each tap says "a whole unit begins now"; which one is found from the time that is
 * believed already, so the result is right but for whole units.
 * @param tapsMonotonicMs when was tapped
 * @param believedOffsetMs UTC minus the monotonic clock as believed, good to half a unit, or corrected by the operator afterwards
 * @returns undefined with fewer than two taps, or when the taps contradict one another
 */
export function estimateFromTaps(tapsMonotonicMs: readonly number[], unit: WatchUnit, believedOffsetMs: number): TapEstimate | undefined {
  if (tapsMonotonicMs.length < FEWEST_TAPS) return undefined
  const unitMs = UNIT_MS[unit]
  // Phases on a circle: all are taken relative to the first, so that none is split by the wrap.
  const phase = (monotonicMs: number) => wrap(monotonicMs + believedOffsetMs, unitMs)
  const first = phase(tapsMonotonicMs[0]!)
  const phases = tapsMonotonicMs.map((tap) => first + wrap(phase(tap) - first, unitMs))
  const middle = median(phases)
  const deviations = phases.map((p) => Math.abs(p - middle))
  const limit = Math.max(4 * 1.4826 * median(deviations), 120)
  const kept = phases.filter((p) => Math.abs(p - middle) <= limit)
  // Taps all over the unit are no taps on it.
  if (kept.length < FEWEST_TAPS || kept.length < 0.6 * phases.length) return undefined
  const mean = kept.reduce((sum, p) => sum + p, 0) / kept.length
  const variance = kept.reduce((sum, p) => sum + (p - mean) ** 2, 0) / Math.max(1, kept.length - 1)
  const spreadMs = Math.max(LEAST_SPREAD_MS, Math.sqrt(variance))
  if (unit === 'second' && spreadMs > 220) return undefined
  const student = 2 + 5 / (kept.length - 1) ** 1.2
  return {
    offsetMs: believedOffsetMs - wrap(mean, unitMs),
    spreadMs,
    randomMs: (student * spreadMs) / Math.sqrt(kept.length),
    taps: kept.length,
  }
}

/** A phase between minus half a unit and plus half a unit. */
function wrap(ms: number, unitMs: number): number {
  return ms - Math.round(ms / unitMs) * unitMs
}

/** How one person taps to a beat: late or early, and how regularly. */
export interface Reaction {
  /** Positive when the taps come after the beat. */
  biasMs: number
  /** 95 % half-width of the bias. */
  uncertaintyMs: number
}

/** A person who has not been measured is late by about this, give or take. */
export const UNMEASURED_REACTION: Reaction = { biasMs: 60, uncertaintyMs: 150 }
/** Seeing a watch and seeing a screen are not quite the same task. */
const TASK_DIFFERENCE_MS = 30

/**
 * Measures the reaction from taps on the application's own beat.
 * @param taps when was tapped and when the beat nearest to it was
 * @returns undefined with fewer than four taps, or taps that follow no beat
 */
export function measureReaction(taps: readonly { tapMs: number; beatMs: number }[]): Reaction | undefined {
  if (taps.length < 4) return undefined
  const lates = taps.map((t) => t.tapMs - t.beatMs)
  const biasMs = median(lates)
  const scatter = 1.4826 * median(lates.map((l) => Math.abs(l - biasMs)))
  if (scatter > 200 || Math.abs(biasMs) > 450) return undefined
  return { biasMs, uncertaintyMs: Math.hypot((2.5 * Math.max(scatter, LEAST_SPREAD_MS)) / Math.sqrt(lates.length), TASK_DIFFERENCE_MS) }
}

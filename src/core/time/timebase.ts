/** Who last set the timebase. */
export type TimebaseSource = 'computer' | 'hand' | 'band' | 'practice'

/**
 * Zeptik's own clock: UTC as a function of a monotonic clock that nobody sets.
 * It never touches the computer's clock and does not follow it when that one is stepped.
 */
export interface Timebase {
  /** UTC at `anchorMonotonicMs`, corrections included. */
  readonly anchorUtcMs: number
  readonly anchorMonotonicMs: number
  /** UTC milliseconds that pass in one monotonic millisecond: 1, or more in fast practice. */
  readonly rate: number
  /** All corrections since the computer's clock was taken over. */
  readonly correctionMs: number
  readonly source: TimebaseSource
  readonly setUtcMs: number
  /** Half-width of the 95 % interval when it was set; undefined when nobody knows, as with the computer's clock. */
  readonly uncertaintyMs: number | undefined
}

/** An ordinary crystal may wander this much before it has been measured. */
const UNKNOWN_DRIFT_PPM = 30

/** Takes the computer's clock as a first guess. */
export function startTimebase(wallUtcMs: number, monotonicMs: number): Timebase {
  return {
    anchorUtcMs: wallUtcMs,
    anchorMonotonicMs: monotonicMs,
    rate: 1,
    correctionMs: 0,
    source: 'computer',
    setUtcMs: wallUtcMs,
    uncertaintyMs: undefined,
  }
}

/** UTC at a monotonic instant. */
export function utcAt(timebase: Timebase, monotonicMs: number): number {
  return timebase.anchorUtcMs + (monotonicMs - timebase.anchorMonotonicMs) * timebase.rate
}

/** The monotonic instant at which UTC has a value. */
export function monotonicAt(timebase: Timebase, utcMs: number): number {
  return timebase.anchorMonotonicMs + (utcMs - timebase.anchorUtcMs) / timebase.rate
}

/** Moves the timebase: a positive correction makes it later. */
export function correctTimebase(
  timebase: Timebase,
  correction: { byMs: number; source: TimebaseSource; uncertaintyMs: number | undefined },
  monotonicMs: number,
): Timebase {
  if (!Number.isFinite(correction.byMs)) throw new RangeError(`correction must be a finite number of milliseconds, got ${correction.byMs}`)
  const utcMs = utcAt(timebase, monotonicMs) + correction.byMs
  return {
    ...timebase,
    anchorUtcMs: utcMs,
    anchorMonotonicMs: monotonicMs,
    correctionMs: timebase.correctionMs + correction.byMs,
    source: correction.source,
    setUtcMs: utcMs,
    uncertaintyMs: correction.uncertaintyMs,
  }
}

/** Half-width of the 95 % interval now: what it was when set, plus what an unmeasured crystal may have wandered since. */
export function uncertaintyAt(timebase: Timebase, utcMs: number): number | undefined {
  if (timebase.uncertaintyMs === undefined) return undefined
  return timebase.uncertaintyMs + Math.abs(utcMs - timebase.setUtcMs) * UNKNOWN_DRIFT_PPM * 1e-6
}

/** Until when the uncertainty stays below a threshold; undefined when it is unknown or already above. */
export function goodUntilUtcMs(timebase: Timebase, thresholdMs: number): number | undefined {
  if (timebase.uncertaintyMs === undefined || timebase.uncertaintyMs > thresholdMs) return undefined
  return timebase.setUtcMs + (thresholdMs - timebase.uncertaintyMs) / (UNKNOWN_DRIFT_PPM * 1e-6)
}

/** Lets UTC run faster, or stand still, from now on: for practice and recordings alone. */
export function setTimebaseRate(timebase: Timebase, rate: number, monotonicMs: number): Timebase {
  return { ...timebase, anchorUtcMs: utcAt(timebase, monotonicMs), anchorMonotonicMs: monotonicMs, rate }
}

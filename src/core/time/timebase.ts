import { goodFor, TYPICAL_WANDER_PPM, UNKNOWN_DRIFT_PPM, uncertaintyAfter, type Holdover } from './holdover'
import type { ClockSourceKind } from './clockReading'

/** Who last set the timebase: the computer's clock at the start, a kind of source, or a simulation. */
export type TimebaseSource = 'computer' | 'practice' | ClockSourceKind

/**
 * Zeptik's own clock: UTC as a function of a monotonic clock that nobody sets.
 * It never touches the computer's clock and does not follow it when that one is stepped.
 */
export interface Timebase {
  /** UTC at `anchorMonotonicMs`, corrections included. */
  readonly anchorUtcMs: number
  readonly anchorMonotonicMs: number
  /** UTC milliseconds that pass in one monotonic millisecond: near 1, or more in fast practice. */
  readonly rate: number
  /** All corrections since the computer's clock was taken over. */
  readonly correctionMs: number
  readonly source: TimebaseSource
  readonly setUtcMs: number
  /** Half-width of the 95 % interval when it was set; undefined when nobody knows, as with the computer's clock. */
  readonly uncertaintyMs: number | undefined
  /** How well the rate is known, 95 %. */
  readonly driftPpm: number
  readonly wanderPpm: number
  /** Mean age of the readings that set it, at that time. */
  readonly driftAgeMs: number
}

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
    driftPpm: UNKNOWN_DRIFT_PPM,
    wanderPpm: TYPICAL_WANDER_PPM,
    driftAgeMs: 0,
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

export interface Correction {
  byMs: number
  source: TimebaseSource
  /** Half-width of the 95 % interval afterwards; undefined when nobody knows. */
  uncertaintyMs: number | undefined
}

/** Moves the timebase: a positive correction makes it later. @throws {RangeError} not a finite number */
export function correctTimebase(timebase: Timebase, correction: Correction, monotonicMs: number): Timebase {
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
    driftAgeMs: 0,
  }
}

function holdoverOf({ uncertaintyMs, driftPpm, wanderPpm, driftAgeMs }: Timebase): Holdover | undefined {
  return uncertaintyMs === undefined ? undefined : { baseMs: uncertaintyMs, driftPpm, wanderPpm, driftAgeMs }
}

/** Half-width of the 95 % interval at a time: what it was when set, plus what the crystal may have wandered since. */
export function uncertaintyAt(timebase: Timebase, utcMs: number): number | undefined {
  const holdover = holdoverOf(timebase)
  return holdover && uncertaintyAfter(holdover, utcMs - timebase.setUtcMs)
}

/** Until when the uncertainty stays below a threshold; undefined when it is unknown or already above. */
export function goodUntilUtcMs(timebase: Timebase, thresholdMs: number): number | undefined {
  const holdover = holdoverOf(timebase)
  const forMs = holdover && goodFor(holdover, thresholdMs)
  return forMs === undefined ? undefined : timebase.setUtcMs + forMs
}

/** Lets UTC run at another rate from now on: by the measured drift, or fast and halted in practice. */
export function setTimebaseRate(timebase: Timebase, rate: number, monotonicMs: number): Timebase {
  return { ...timebase, anchorUtcMs: utcAt(timebase, monotonicMs), anchorMonotonicMs: monotonicMs, rate }
}

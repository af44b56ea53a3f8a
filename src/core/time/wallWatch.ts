/** The computer's clock and the monotonic clock, read together. */
export interface WallSample {
  monotonicMs: number
  wallUtcMs: number
}

/** What happened to the computer between two samples. */
export type WallEvent =
  /** The computer's clock was set; Zeptik's went on undisturbed. */
  | { kind: 'wallStepped'; byMs: number }
  /** The computer slept, or its clock was set forward: the monotonic clock may have stood still meanwhile. */
  | { kind: 'sleptOrStepped'; byMs: number }
  /** The page was not run for a while; both clocks went on. */
  | { kind: 'paused'; forMs: number }

/** A clock that is steered gently moves by up to half a millisecond a second; this is no steering. */
const STEP_MS = 60
const STEERING_PPM = 600
/** Sleep is longer than this; a smaller jump forward is a step. */
const SHORTEST_SLEEP_MS = 1500
const PAUSE_MS = 20_000

/** Tells from two samples whether the computer's clock was set or the computer slept. */
export function compareWall(before: WallSample, now: WallSample): WallEvent | undefined {
  const monotonic = now.monotonicMs - before.monotonicMs
  const byMs = now.wallUtcMs - before.wallUtcMs - monotonic
  if (Math.abs(byMs) > STEP_MS + monotonic * STEERING_PPM * 1e-6) {
    // Only forwards can be sleep: no clock runs back by itself.
    return byMs >= SHORTEST_SLEEP_MS ? { kind: 'sleptOrStepped', byMs } : { kind: 'wallStepped', byMs }
  }
  return monotonic > PAUSE_MS ? { kind: 'paused', forMs: monotonic } : undefined
}

import { lowerEnvelope, type DelayPoint, type Envelope } from '../time/lowerEnvelope'
import { median } from '../time/weightedMedian'

/** From this span on the points themselves tell how the computer's clock drifts against the satellites'. */
const SLOPE_FROM_MS = 150_000
/** Few bursts cannot show how large the jitter is. */
const UNSEEN_JITTER_MS = 120
/** A lowest point that stands alone by this much, and by three times the scatter of the others, is not believed. */
const LONE_MS = 30
const FEWEST_FOR_LONE = 5
/** A drift that no crystal has: the line below the points follows something else. */
const LARGEST_DRIFT = 300e-6

/** The least delay of what was seen, carried to the last instant. */
export interface Edge {
  /** Start of a burst less the instant it names, at `atMs`. */
  delayMs: number
  atMs: number
  randomMs: number
  jitterMs: number
  windowMs: number
}

/** When a burst began on the monotonic clock, and the instant that it names. */
export interface Started {
  startMs: number
  utcMs: number
}

/**
 * The lower edge of what was seen: delays scatter above it and never below.
 * @param bursts at least one
 * @param driftPpm drift of the computer's clock as known, until the bursts themselves tell
 */
export function edgeOf(bursts: readonly Started[], driftPpm: number): Edge {
  // Large numbers are taken off first, so that the line is exact.
  const origin = bursts[0]!.startMs - bursts[0]!.utcMs
  let delays: DelayPoint[] = bursts.map((b) => ({ x: b.startMs, y: b.startMs - b.utcMs - origin })).sort((a, b) => a.x - b.x)
  const last = delays.at(-1)!
  let line = edge(delays, driftPpm)
  for (let round = 0; round < 2; round++) {
    const lone = loneIndex(delays, line)
    if (lone < 0) break
    delays = delays.filter((_, i) => i !== lone)
    line = edge(delays, driftPpm)
  }
  const atLast = line.y + line.slope * (last.x - delays.at(-1)!.x)
  const jitterMs = median(delays.map((p) => p.y - (atLast - line.slope * (last.x - p.x))))
  // Of delays with this mean the least is late by a share of it: corrected, and allowed for.
  const lateMs = jitterMs / (delays.length + 1)
  return {
    delayMs: origin + atLast - lateMs,
    atMs: last.x,
    // Nineteen times in twenty the least of n even delays lies in the lowest 1 - 0.05^(1/n) of their range.
    randomMs: Math.max(2, (2.5 * jitterMs + UNSEEN_JITTER_MS / delays.length) * (1 - 0.05 ** (1 / delays.length))),
    jitterMs,
    windowMs: last.x - delays[0]!.x,
  }
}

function edge(delays: readonly DelayPoint[], driftPpm: number): Envelope {
  const line = lowerEnvelope(delays, delays.at(-1)!.x, -driftPpm * 1e-6, SLOPE_FROM_MS)
  return Math.abs(line.slope) <= LARGEST_DRIFT ? line : lowerEnvelope(delays, delays.at(-1)!.x, -driftPpm * 1e-6, Infinity)
}

/** Index of a lowest point that stands alone, far below all others; -1 when none does. */
function loneIndex(delays: readonly DelayPoint[], line: Envelope): number {
  if (delays.length < FEWEST_FOR_LONE) return -1
  const lastX = delays.at(-1)!.x
  const above = delays.map((p, i) => ({ i, ms: p.y - (line.y - line.slope * (lastX - p.x)) })).sort((a, b) => a.ms - b.ms)
  const gapMs = above[1]!.ms - above[0]!.ms
  const scatterMs = above[Math.floor(above.length / 2)]!.ms - above[1]!.ms
  return gapMs > Math.max(LONE_MS, 3 * scatterMs) ? above[0]!.i : -1
}

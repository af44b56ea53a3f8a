import { utcAt, type Timebase, type TimebaseSource } from './timebase'

/** Where the timebase should be, and who says so. */
export interface SteeringTarget {
  /** UTC minus the monotonic clock, at this instant. */
  offsetMs: number
  uncertaintyMs: number
  source: TimebaseSource
  driftPpm: number
  driftUncertaintyPpm: number
  wanderPpm: number
  driftAgeMs: number
}

/**
 * What the station is doing: `free` listens to nothing, `listening` decodes, `contact` transmits or receives a contact
 * in this slot.
 */
export type Occupancy = 'free' | 'listening' | 'contact'

/** Below this nothing needs moving. */
const DEAD_BAND_MS = 0.5
/** Up to this the clock is drawn over slowly, which no decoder notices. */
const LARGEST_SLEW_MS = 12
/** Half a millisecond a second: 7.5 ms in a slot. */
const FASTEST_SLEW_PPM = 500
/** The stretch at the end of a slot in which all transmissions are over and the slot has been handed to the decoder. */
const GAP_MS = { from: 13_950, to: 14_800 } as const

/**
 * A device so busy that no slot is handed over in time would never be set right: after so long a listener takes a step
 * between slots all the same, and then at any moment. What is lost is the rest of one slot.
 */
const PATIENCE_MS = { handedOver: 32_000, gap: 62_000 } as const

export interface SteeringMoment {
  monotonicMs: number
  occupancy: Occupancy
  slotMs: number
  /** Whether this slot's audio has been handed to the decoder: what arrives late still belongs to the clock as it was. Default true. */
  slotOver?: boolean
  /** For how long a step has waited already. Default 0. */
  waitedMs?: number
}

export interface Steered {
  timebase: Timebase
  /** Step made now, in ms. */
  steppedMs: number
  /** Step that waits for the end of the slot, in ms. */
  waitingMs: number
}

/**
 * Brings the timebase to its target. Small differences are drawn over slowly; larger ones are a step, made at once when
 * nothing is being heard and otherwise only between slots; a listener does not wait for ever.
 */
export function steer(timebase: Timebase, target: SteeringTarget, at: SteeringMoment): Steered {
  const { monotonicMs, occupancy, slotMs, slotOver = true, waitedMs = 0 } = at
  const nowUtcMs = utcAt(timebase, monotonicMs)
  const differenceMs = monotonicMs + target.offsetMs - nowUtcMs
  const size = Math.abs(differenceMs)
  const known = (base: Timebase): Timebase => ({
    ...base,
    source: target.source,
    setUtcMs: base.anchorUtcMs,
    driftPpm: target.driftUncertaintyPpm,
    wanderPpm: target.wanderPpm,
    driftAgeMs: target.driftAgeMs,
    // What is still to be moved is an error for as long as it is not.
    uncertaintyMs: Math.hypot(target.uncertaintyMs, monotonicMs + target.offsetMs - base.anchorUtcMs),
  })
  const moveBy = (byMs: number): Timebase => ({
    ...timebase,
    anchorUtcMs: nowUtcMs + byMs,
    anchorMonotonicMs: monotonicMs,
    correctionMs: timebase.correctionMs + byMs,
    rate: 1 + target.driftPpm * 1e-6,
  })
  if (size <= LARGEST_SLEW_MS) {
    // Drawn over in proportion to the time since the last look, so that a halted page leaves no false rate behind.
    const most = Math.max(0, monotonicMs - timebase.anchorMonotonicMs) * FASTEST_SLEW_PPM * 1e-6
    const byMs = size <= DEAD_BAND_MS ? 0 : Math.max(-most, Math.min(most, differenceMs))
    return { timebase: known(moveBy(byMs)), steppedMs: 0, waitingMs: 0 }
  }
  const intoMs = ((nowUtcMs % slotMs) + slotMs) % slotMs
  const between = intoMs >= GAP_MS.from && intoMs <= GAP_MS.to
  const patient = occupancy === 'contact' || waitedMs < PATIENCE_MS.gap
  const inGap = between && (slotOver || (occupancy !== 'contact' && waitedMs >= PATIENCE_MS.handedOver))
  if (occupancy !== 'free' && patient && !inGap) return { timebase, steppedMs: 0, waitingMs: differenceMs }
  return { timebase: known(moveBy(differenceMs)), steppedMs: differenceMs, waitingMs: 0 }
}

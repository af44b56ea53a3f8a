import { OCCUPIED_HZ } from './signal'

/** A free place for a transmission. */
export interface Lane {
  /** Where the lowest tone would go. */
  audioOffsetHz: number
  /** Distance to the nearest heard signal's edge on either side; how much room there is. */
  clearanceHz: number
}

const STEP_HZ = 5
/** Lanes offered together lie this far apart, so that they are real choices. */
const APART_HZ = 150

/**
 * Finds the places with the most room among the signals heard in one parity over the last slots.
 * @param occupiedHz lowest tones of the signals heard
 * @returns up to `count` lanes, the roomiest first, at least 150 Hz apart; empty when nothing has 10 Hz of room
 */
export function findLanes(
  occupiedHz: readonly number[],
  { lowestHz = 400, highestHz = 2600, count = 3 }: { lowestHz?: number; highestHz?: number; count?: number } = {},
): Lane[] {
  const candidates: Lane[] = []
  for (let hz = lowestHz; hz + OCCUPIED_HZ <= highestHz; hz += STEP_HZ) {
    let clearanceHz = 200
    for (const other of occupiedHz) clearanceHz = Math.min(clearanceHz, Math.abs(other - hz) - OCCUPIED_HZ)
    if (clearanceHz >= 10) candidates.push({ audioOffsetHz: hz, clearanceHz })
  }
  // With equal room the middle of the passband is the safer place: filters sag at its edges.
  const middle = (lowestHz + highestHz - OCCUPIED_HZ) / 2
  candidates.sort((a, b) => b.clearanceHz - a.clearanceHz || Math.abs(a.audioOffsetHz - middle) - Math.abs(b.audioOffsetHz - middle))
  const lanes: Lane[] = []
  for (const lane of candidates) {
    if (lanes.length === count) break
    if (lanes.every((chosen) => Math.abs(chosen.audioOffsetHz - lane.audioOffsetHz) >= APART_HZ)) lanes.push(lane)
  }
  return lanes
}

import { laneExcessDb, type SlotOccupancy } from './laneOccupancy'
import { OCCUPIED_HZ } from './signal'

/** A free place for a transmission. */
export interface Lane {
  /** Where the lowest tone would go. */
  audioOffsetHz: number
  /** Distance to the nearest signal's edge on either side; how much room there is. */
  clearanceHz: number
  /** Why it is a good one, or what speaks against it, the weightiest first. */
  reasons: string[]
}

/** A signal that was heard in slots of the parity in question. */
export interface LaneUser {
  /** Who, when it was decoded. */
  call?: string
  frequencyHz: number
  snrDb: number
}

export interface LaneSearch {
  /** Signals heard over the last slots of this parity. */
  users: readonly LaneUser[]
  /** What was measured in the last slots of this parity, decoded or not. */
  occupancy?: readonly SlotOccupancy[]
  /** What the receiver's filter lets through. */
  passband?: { lowHz: number; highHz: number }
  count?: number
}

const LOWEST_HZ = 300
const HIGHEST_HZ = 2700
const STEP_HZ = 5
/** Lanes offered together lie this far apart, so that they are real choices. */
const APART_HZ = 150
/** Less room than this is none. */
const LEAST_CLEARANCE_HZ = 10
const MOST_CLEARANCE_HZ = 200
/** A lane this loud on average is somebody's. */
const OCCUPIED_DB = 2.5
/** The loudest three bins of a lane of noise stand out so far. */
const NOISE_DB = 1.5
/** Filters sag, and shift the phase, this near to their edges. */
const EDGE_HZ = 100
/** Signals stronger than this spread beyond their tones: by some 4 Hz for each dB. */
const STRONG_DB = 0
const SPLATTER_HZ_PER_DB = 4
const MOST_SPLATTER_HZ = 120
/** Neighbours this strong are named even where they do no harm. */
const NAMED_DB = 10
const NAMED_HZ = 150

/**
 * Finds the best places for a transmission among what was measured and heard in one parity over the last slots.
 * @returns up to `count` lanes, the best first, at least 150 Hz apart; empty when nothing has 10 Hz of room
 */
export function findLanes({ users, occupancy = [], passband, count = 3 }: LaneSearch): Lane[] {
  const lowestHz = Math.max(LOWEST_HZ, (passband?.lowHz ?? 0) + EDGE_HZ / 2)
  const highestHz = Math.min(HIGHEST_HZ, (passband?.highHz ?? Infinity) - EDGE_HZ / 2)
  // With equal room the middle of the passband is the safer place.
  const middle = (lowestHz + highestHz - OCCUPIED_HZ) / 2
  const places: (Lane & { score: number })[] = []
  for (let hz = Math.ceil(lowestHz / STEP_HZ) * STEP_HZ; hz + OCCUPIED_HZ <= highestHz; hz += STEP_HZ) {
    const judged = judgeLane(hz, { users, occupancy, ...(passband && { passband }) })
    if (!judged) continue
    places.push({ ...judged, score: judged.score - Math.abs(hz - middle) / 200 })
  }
  places.sort((a, b) => b.score - a.score)
  const lanes: Lane[] = []
  for (const { score: _score, ...lane } of places) {
    if (lanes.length === count) break
    if (lanes.every((chosen) => Math.abs(chosen.audioOffsetHz - lane.audioOffsetHz) >= APART_HZ)) lanes.push(lane)
  }
  return lanes
}

/** Judges one place; undefined when it is taken. The score counts hertz of room, less what speaks against it. */
function judgeLane(
  hz: number,
  { users, occupancy, passband }: Required<Pick<LaneSearch, 'users' | 'occupancy'>> & Pick<LaneSearch, 'passband'>,
): (Lane & { score: number }) | undefined {
  let clearanceHz = MOST_CLEARANCE_HZ
  let nearest: LaneUser | undefined
  let splatterHz = 0
  let strong: LaneUser | undefined
  for (const user of users) {
    const gap = Math.abs(user.frequencyHz - hz) - OCCUPIED_HZ
    if (gap < clearanceHz) {
      clearanceHz = gap
      nearest = user
    }
    splatterHz = Math.max(splatterHz, reachHz(user.snrDb) - gap)
    if (user.snrDb >= NAMED_DB && gap < NAMED_HZ && user.snrDb > (strong?.snrDb ?? -Infinity)) strong = user
  }
  if (clearanceHz < LEAST_CLEARANCE_HZ) return undefined
  const measured = occupancy.map((slot) => laneExcessDb(slot, hz))
  const meanDb = measured.length > 0 ? measured.reduce((a, b) => a + b) / measured.length : 0
  if (meanDb > OCCUPIED_DB) return undefined
  const free = measured.filter((db) => db <= OCCUPIED_DB).length
  const edgeHz = passband ? Math.min(hz - passband.lowHz, passband.highHz - hz - OCCUPIED_HZ) : Infinity

  const reasons: string[] = []
  if (strong) reasons.push(`strong neighbour: ${name(strong)}, ${Math.round(strong.snrDb)} dB`)
  if (measured.length > 0)
    reasons.push(
      free === measured.length
        ? `measured free in ${free} of ${free} slots`
        : `used in ${measured.length - free} of ${measured.length} slots`,
    )
  reasons.push(
    nearest
      ? `${Math.round(clearanceHz)} Hz to ${name(nearest)}`
      : users.length > 0
        ? `nobody within ${MOST_CLEARANCE_HZ} Hz`
        : 'nobody heard in these slots',
  )
  if (edgeHz < EDGE_HZ) reasons.push(`${Math.round(edgeHz)} Hz from the filter's edge`)
  const score =
    clearanceHz -
    2 * splatterHz -
    40 * Math.max(0, meanDb - NOISE_DB) -
    (measured.length > 0 ? (60 * (measured.length - free)) / measured.length : 0) -
    Math.max(0, EDGE_HZ - edgeHz)
  return { audioOffsetHz: hz, clearanceHz, reasons, score }
}

const name = (user: LaneUser) => `${user.call ?? 'a signal'} at ${Math.round(user.frequencyHz)} Hz`

/** How far a signal reaches beyond its own tones. */
function reachHz(snrDb: number): number {
  return Math.min(MOST_SPLATTER_HZ, SPLATTER_HZ_PER_DB * Math.max(0, snrDb - STRONG_DB))
}

/** Someone who sends in the own slots where the own lane is. */
export interface Intruder {
  call?: string
  frequencyHz: number
  slotIndex: number
}

/**
 * Tells who came upon the own lane. Only slots of the own parity that were listened to can tell.
 * @param slots the last slots of the own parity that were listened to, newest last
 */
export function findIntruder(
  ownHz: number,
  ownCall: string,
  slots: readonly { slotIndex: number; users: readonly LaneUser[]; occupancy?: SlotOccupancy }[],
): Intruder | undefined {
  const newest = slots[slots.length - 1]
  if (!newest) return undefined
  const user = newest.users.find((u) => u.call !== ownCall && Math.abs(u.frequencyHz - ownHz) < OCCUPIED_HZ)
  if (user) return { ...(user.call && { call: user.call }), frequencyHz: user.frequencyHz, slotIndex: newest.slotIndex }
  if (newest.occupancy && laneExcessDb(newest.occupancy, ownHz) > 2 * OCCUPIED_DB)
    return { frequencyHz: ownHz, slotIndex: newest.slotIndex }
  return undefined
}

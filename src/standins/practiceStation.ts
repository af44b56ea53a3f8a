import type { Random } from '@/core/dsp'
import { madeUpCall, type ExchangeState } from '@/core/ft8'
import { positionToLocator } from '@/core/place'
import type { Parity } from '@/core/time'

/** One simulated operator somewhere in the world. */
export interface PracticeStation {
  readonly call: string
  readonly locator: string
  /** How it arrives at the operator's place, before fading. */
  readonly snrDb: number
  readonly audioOffsetHz: number
  /** Its clock against true time at the start, and how that changes. */
  readonly clockS: number
  readonly clockDriftSPerHour: number
  readonly driftHzPerS: number
  readonly fadingHz: number
  parity: Parity
  exchange: ExchangeState
  /** Slots until it may start something again. */
  restSlots: number
  /** Gone for this many slots, in the middle of whatever it was doing. */
  awaySlots: number
}

/** Regions with a weight: where simulated stations sit (south-west corner, size in degrees). */
const REGIONS: readonly (readonly [weight: number, south: number, west: number, height: number, width: number])[] = [
  [6, 40, -5, 18, 32],
  [2, 52, 10, 12, 25],
  [2, 30, -115, 15, 40],
  [1, -35, -70, 25, 25],
  [1, 32, 130, 10, 12],
  [1, -36, 140, 12, 12],
  [1, -30, 18, 12, 12],
]

function pickPlace(random: Random): string {
  const total = REGIONS.reduce((sum, region) => sum + region[0], 0)
  let at = random() * total
  const region = REGIONS.find(([weight]) => (at -= weight) < 0) ?? REGIONS[0]!
  return positionToLocator({ latitudeDeg: region[1] + random() * region[3], longitudeDeg: region[2] + random() * region[4] }, 4)
}

/** Draws a band of stations: spread over the passband, with strengths and clock errors as one finds them. */
export function drawStations(count: number, random: Random): PracticeStation[] {
  const calls = new Set<string>()
  while (calls.size < count) calls.add(madeUpCall(random))
  const lane = 2300 / count
  return [...calls].map((call, i) => ({
    call,
    locator: pickPlace(random),
    snrDb: i % 8 === 0 ? 2 + 8 * random() : -18 + 18 * random(),
    audioOffsetHz: Math.round(300 + lane * i + 0.6 * lane * random()),
    // Most are within a quarter of a second, one in twelve is far off.
    clockS: i % 12 === 7 ? 1.1 + 0.4 * random() : 0.5 * (random() + random() - 1),
    clockDriftSPerHour: 0.1 * (2 * random() - 1),
    driftHzPerS: i % 5 === 3 ? 0.15 * (2 * random() - 1) : 0,
    fadingHz: 0.02 + 0.15 * random(),
    parity: random() < 0.5 ? 'even' : 'odd',
    exchange: { phase: 'idle' },
    restSlots: Math.floor(4 * random()),
    awaySlots: 0,
  }))
}

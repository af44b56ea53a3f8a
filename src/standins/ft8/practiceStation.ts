import type { Random } from '@/core/dsp'
import { madeUpCall, type ExchangeState } from '@/core/ft8'
import type { Parity } from '@/core/time'
import { drawPlace } from '../drawPlace'

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

/** Draws a band of stations: spread over the passband, with strengths and clock errors as one finds them. */
export function drawStations(count: number, random: Random): PracticeStation[] {
  const calls = new Set<string>()
  while (calls.size < count) calls.add(madeUpCall(random))
  const lane = 2300 / count
  return [...calls].map((call, i) => ({
    call,
    locator: drawPlace(random),
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

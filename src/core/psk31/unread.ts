import { BIN_HZ } from './bandSpectra'
import { noiseWithin } from './search'
import { BAND_HZ } from './signal'

/** Something that is heard and not read here. */
export interface Unread {
  frequencyHz: number
  widthHz: number
  /** A steady tone, or a signal of another kind. */
  kind: 'carrier' | 'other'
}

/** What stands so far above the noise is somebody's. */
const LEAST_DB = 12
const LEAST = 10 ** (LEAST_DB / 10)
/** Parts of one signal may be so far apart. */
const GAP_HZ = 30
/** No wider is a tone, through the window. */
const CARRIER_HZ = 16
/** It is told when it was there in so many searches in a row, seconds apart. */
const LEAST_TIMES = 4
const SAME_HZ = 25
/** What moves about like a voice is no signal of a place. */
const MOST_HZ = 700

/** Finds what is strong in the band, steadily there, and no conversation. */
export class UnreadKeeper {
  private seen: (Unread & { times: number })[] = []

  /** @param isRead whether a frequency belongs to a conversation, or to what one spills over; `peak` is the strongest bin of what is there */
  look(power: Float64Array, isRead: (frequencyHz: number, peak: number) => boolean): void {
    this.seen = humpsOf(power)
      .filter(({ frequencyHz, widthHz, peak }) => ![0, -widthHz / 2, widthHz / 2].some((off) => isRead(frequencyHz + off, peak)))
      .map(({ peak: _, ...one }) => {
        const before = this.seen.find((other) => Math.abs(other.frequencyHz - one.frequencyHz) < SAME_HZ && other.kind === one.kind)
        return { ...one, times: (before?.times ?? 0) + 1 }
      })
  }

  get unread(): Unread[] {
    return this.seen.filter(({ times }) => times >= LEAST_TIMES).map(({ times: _, ...one }) => one)
  }
}

function humpsOf(power: Float64Array): (Unread & { peak: number })[] {
  const found: { from: number; to: number; peak: number }[] = []
  const [first, last] = BAND_HZ.map((hz) => Math.round(hz / BIN_HZ)) as [number, number]
  for (let k = first; k <= last; k++) {
    const noise = noiseWithin(power, k * BIN_HZ)
    if (!(noise > 0) || power[k]! < LEAST * noise) continue
    const before = found.at(-1)
    if (before && (k - before.to) * BIN_HZ <= GAP_HZ) Object.assign(before, { to: k, peak: Math.max(before.peak, power[k]!) })
    else found.push({ from: k, to: k, peak: power[k]! })
  }
  return found
    .map(({ from, to, peak }) => ({
      peak,
      frequencyHz: Math.round(((from + to) / 2) * BIN_HZ),
      widthHz: Math.round((to - from + 1) * BIN_HZ),
    }))
    .filter(({ widthHz }) => widthHz <= MOST_HZ)
    .map((one) => ({ ...one, kind: one.widthHz <= CARRIER_HZ ? ('carrier' as const) : ('other' as const) }))
}

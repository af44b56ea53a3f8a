import { parityOf } from '../time/slots'
import { OCCUPIED_HZ, SLOT_MS } from './signal'

/** How loud each part of the band was in one slot. */
export interface SlotOccupancy {
  slotIndex: number
  binHz: number
  /** Mean power of each bin over the transmission, in dB over the noise around it; about 0 where nothing was. */
  excessDb: readonly number[]
}

/** Between these times of a slot whoever is in time is on the air. */
const FROM_MS = 1000
const TO_MS = 12_600
/** With fewer rows than this a slot was not measured. */
const FEWEST_ROWS = 30
/** The noise at a bin is what a quarter of the bins within this lie under. */
const FLOOR_REACH_HZ = 300
const FLOOR_QUANTILE = 0.25
/** What is kept of the past: four slots of either parity. */
const KEPT_SLOTS = 8

export interface LaneMeter {
  /** Takes one row of a spectrogram: levels in dB of bins `binHz` apart from 0 Hz on. */
  push(utcMs: number, levels: Float32Array): void
  /** A slot in which this station transmitted measures nothing. */
  forget(slotIndex: number): void
}

/**
 * Creates a meter of who occupies what, slot by slot, undecoded signals included.
 * @param onSlot gets all that is kept, newest last, when a slot's transmissions are over
 */
export function createLaneMeter(binHz: number, onSlot: (kept: readonly SlotOccupancy[]) => void): LaneMeter {
  let kept: SlotOccupancy[] = []
  let sums: Float64Array | undefined
  let rows = 0
  let current = Number.NaN
  const forgotten = new Set<number>()
  const finish = () => {
    if (sums && rows >= FEWEST_ROWS && !forgotten.has(current)) {
      const means = sums.map((sum) => 10 * Math.log10(sum / rows))
      kept = [...kept, { slotIndex: current, binHz, excessDb: Array.from(overFloor(means, binHz)) }].slice(-KEPT_SLOTS)
      onSlot(kept)
    }
    sums = undefined
    rows = 0
    for (const slot of forgotten) if (slot < current - 4) forgotten.delete(slot)
  }
  return {
    push(utcMs, levels) {
      const slotIndex = Math.floor(utcMs / SLOT_MS)
      const intoMs = utcMs - slotIndex * SLOT_MS
      if (sums && (slotIndex !== current || intoMs > TO_MS)) finish()
      if (intoMs < FROM_MS || intoMs > TO_MS) return
      current = slotIndex
      sums ??= new Float64Array(levels.length)
      rows++
      for (let b = 0; b < levels.length; b++) sums[b]! += 10 ** (levels[b]! / 10)
    },
    forget: (slotIndex) => void forgotten.add(slotIndex),
  }
}

function overFloor(means: Float64Array, binHz: number): Float32Array {
  const reach = Math.round(FLOOR_REACH_HZ / binHz)
  const out = new Float32Array(means.length)
  // The floor changes slowly: every eighth bin has one of its own.
  for (let from = 0; from < means.length; from += 8) {
    const near = means.slice(Math.max(0, from - reach), from + reach + 1).sort()
    const floor = near[Math.floor(near.length * FLOOR_QUANTILE)]!
    for (let b = from; b < Math.min(means.length, from + 8); b++) out[b] = means[b]! - floor
  }
  return out
}

/** The loudest part of a lane in one slot, in dB over the noise; over three bins together, so that one line of noise is none. */
export function laneExcessDb({ binHz, excessDb }: SlotOccupancy, audioOffsetHz: number): number {
  const from = Math.round(audioOffsetHz / binHz)
  const to = Math.round((audioOffsetHz + OCCUPIED_HZ) / binHz)
  let loudest = -Infinity
  for (let b = Math.max(1, from); b <= Math.min(excessDb.length - 2, to); b++)
    loudest = Math.max(loudest, (excessDb[b - 1]! + excessDb[b]! + excessDb[b + 1]!) / 3)
  return loudest
}

/** Slots of one parity, newest last. */
export function ofParity(kept: readonly SlotOccupancy[], parity: 'even' | 'odd'): SlotOccupancy[] {
  return kept.filter((slot) => parityOf(slot.slotIndex) === parity)
}

import { isGood } from '../fcs'

/** Two addresses, a control byte and the check sequence. */
const SHORTEST_BYTES = 17
/** Ten addresses, two bytes of control, PID, an information field of version 2.2 that was negotiated, and the check sequence. */
const LONGEST_BYTES = 70 + 3 + 2048 + 2
const MOST_BITS = Math.ceil((LONGEST_BYTES * 8 * 6) / 5)
/** Bits that are tried to be wrong, the least sure ones. */
const DOUBTED = 12
/** Of a frame that is to be mended so many errors are expected at most, by what the waveform says. */
const MOST_EXPECTED = 3

export interface HdlcFrame {
  /** Without its check sequence. */
  bytes: Uint8Array
  /** Bits on the air that were taken for wrong. */
  mended: number
  /** Levels from the begin of the opening flag to the end of the closing one. */
  levels: number
}

/**
 * Finds frames in line levels, which are taken as received before NRZI: a wrong level makes two wrong bits.
 * Where the check sequence does not fit and few levels are doubtful, the likeliest ones are tried.
 */
export class HdlcReader {
  private lastLevel = 0
  private ones = 0
  /** Levels since the last flag, the last one of the flag first. */
  private levels: number[] = []
  private sure: number[] = []
  private inFrame = false

  /** @param pattern levels that are wrong together, from the first of them on, where one bit on the air was wrong */
  constructor(
    private readonly isCredible: (frame: Uint8Array) => boolean,
    private readonly pattern: readonly number[] = [0],
  ) {}

  /** @param llr logarithm of how much likelier the level is a one than a zero */
  push(llr: number): HdlcFrame | undefined {
    const level = llr > 0 ? 1 : 0
    const bit = level === this.lastLevel ? 1 : 0
    this.lastLevel = level
    if (this.inFrame) {
      this.levels.push(level)
      this.sure.push(Math.abs(llr))
      if (this.levels.length > MOST_BITS) this.inFrame = false
    }
    if (bit === 1) {
      // Seven ones abort.
      if (++this.ones >= 7) this.inFrame = false
      return undefined
    }
    const { ones } = this
    this.ones = 0
    if (ones !== 6) return undefined
    const found = this.inFrame && this.levels.length > 8 * SHORTEST_BYTES ? this.read() : undefined
    this.inFrame = true
    this.levels = [level]
    this.sure = [Math.abs(llr)]
    return found
  }

  private read(): HdlcFrame | undefined {
    const levels = this.levels.slice(0, -8)
    const place = { levels: this.levels.length + 7 }
    const whole = bytesOf(levels)
    if (whole && isGood(whole) && this.isCredible(whole.subarray(0, -2))) return { bytes: whole.slice(0, -2), mended: 0, ...place }
    const expected = this.sure.reduce((sum, sure) => sum + 1 / (1 + Math.exp(sure)), 0)
    if (expected > MOST_EXPECTED * this.pattern.length) return undefined
    for (const wrong of this.doubtful(levels.length)) {
      for (const k of wrong) levels[k] = 1 - levels[k]!
      const bytes = bytesOf(levels)
      for (const k of wrong) levels[k] = 1 - levels[k]!
      if (bytes && isGood(bytes) && this.isCredible(bytes.subarray(0, -2)))
        return { bytes: bytes.slice(0, -2), mended: wrong.length / this.pattern.length, ...place }
    }
    return undefined
  }

  /** Sets of levels that may be wrong together, the likeliest first. */
  private doubtful(length: number): number[][] {
    const { pattern, sure } = this
    // The doubt of a bit shows in all levels that it spoils.
    const costs = Float64Array.from({ length }, (_, k) => Math.max(...pattern.map((offset) => sure[k + offset] ?? Infinity)))
    const places = Array.from({ length }, (_, k) => k)
      .sort((a, b) => costs[a]! - costs[b]!)
      .slice(0, DOUBTED)
    const sets = places.flatMap((a, i) => [[a], ...places.slice(0, i).map((b) => [b, a])])
    const cost = (set: readonly number[]) => set.reduce((sum, k) => sum + costs[k]!, 0)
    return sets.sort((a, b) => cost(a) - cost(b)).map((set) => set.flatMap((k) => pattern.map((offset) => k + offset)))
  }
}

/** Bytes between two flags, stuffed zeros taken out. @param levels the first is the last one of the opening flag @returns nothing where they are no whole bytes or an abort */
function bytesOf(levels: readonly number[]): Uint8Array | undefined {
  const out = new Uint8Array((levels.length >> 3) + 1)
  let count = 0
  let ones = 0
  for (let k = 1; k < levels.length; k++) {
    const bit = levels[k] === levels[k - 1] ? 1 : 0
    if (ones === 5) {
      if (bit === 1) return undefined
      ones = 0
      continue
    }
    if (bit === 1) {
      ones++
      out[count >> 3]! |= 1 << (count & 7)
    } else ones = 0
    count++
  }
  return count % 8 === 0 ? out.subarray(0, count >> 3) : undefined
}

/**
 * Bits out of pulses: the matched filter, timing from the power's own rhythm, and all bits of a stretch at once with what their
 * neighbours add. How much that is, is learned from the stretch itself, since radios bend pulses.
 */

const PER_BIT = 5
/** Bits that are read at once, and those before and after them that help. */
const CORE = 256
const SIDE = 32
const WINDOW = CORE + 2 * SIDE
/** Neighbours before and after a bit that are reckoned with. */
const NEIGHBOURS = 2
const TAPS = 2 * NEIGHBOURS + 1
const STATES = 1 << (TAPS - 1)
const ROUNDS = 2
/** Noise is taken to be as much of the signal at least. */
const LEAST_NOISE = 0.003
/** Neighbours are reckoned with where so much less is left unexplained then. */
const MUCH_LESS = 0.75

const COS = Float64Array.from({ length: PER_BIT }, (_, i) => Math.cos((2 * Math.PI * i) / PER_BIT))
const SIN = Float64Array.from({ length: PER_BIT }, (_, i) => Math.sin((2 * Math.PI * i) / PER_BIT))

export interface ReadBit {
  /** Logarithm of how much likelier a one is than a zero. */
  llr: number
  /** Its middle, in samples of what was pushed. */
  at: number
  amplitude: number
  /** Variance of the noise behind the matched filter. */
  noise: number
}

export class PulseReader {
  private readonly pulse: Float64Array
  private samples = new Float32Array(0)
  /** Behind the matched filter; the first one is at `first`. */
  private filtered = new Float64Array(1 << 14)
  private held = 0
  private first = 0
  private next = (SIDE + 2) * PER_BIT
  private readonly values = new Float64Array(WINDOW)
  private readonly llr = new Float64Array(WINDOW)
  private readonly weights = new Float64Array(WINDOW * STATES * 2)
  private readonly forward = new Float64Array((WINDOW + 1) * STATES)
  private readonly backward = new Float64Array((WINDOW + 1) * STATES)

  constructor(pulse: (bits: number) => number, reach: number) {
    const half = reach * PER_BIT
    const taps = Float64Array.from({ length: 2 * half + 1 }, (_, k) => pulse((k - half) / PER_BIT))
    const energy = taps.reduce((sum, tap) => sum + tap * tap, 0)
    this.pulse = taps.map((tap) => tap / energy)
    // What is filtered lies so much later than what went in.
    this.first = half
  }

  push(block: Float32Array): ReadBit[] {
    const out: ReadBit[] = []
    const piece = CORE * PER_BIT
    for (let at = 0; at < block.length; at += piece) {
      this.filter(block.subarray(at, at + piece))
      while (this.first + this.held >= this.next + (CORE + SIDE + 3) * PER_BIT) out.push(...this.readStretch())
    }
    return out
  }

  private filter(block: Float32Array): void {
    const { pulse } = this
    const whole = new Float32Array(this.samples.length + block.length)
    whole.set(this.samples)
    whole.set(block, this.samples.length)
    const count = Math.max(0, whole.length - pulse.length + 1)
    if (this.held + count > this.filtered.length) {
      const from = Math.max(0, Math.floor(this.next - (SIDE + 3) * PER_BIT) - this.first)
      this.filtered.copyWithin(0, from, this.held)
      this.held -= from
      this.first += from
    }
    const half = (pulse.length - 1) / 2
    for (let i = 0; i < count; i++) {
      let sum = pulse[half]! * whole[i + half]!
      for (let k = 0; k < half; k++) sum += pulse[k]! * (whole[i + k]! + whole[i + pulse.length - 1 - k]!)
      this.filtered[this.held++] = sum
    }
    this.samples = whole.slice(count)
  }

  private readStretch(): ReadBit[] {
    const begin = Math.max(this.first, Math.floor(this.next - (SIDE + 1) * PER_BIT))
    const offset = begin - this.first
    const at = this.timing(offset)
    this.sample(offset, at)
    let channel = this.firstGuess()
    this.slice(channel)
    for (let round = 0; round < ROUNDS; round++) {
      channel = this.learn()
      if (isStraight(channel)) {
        this.slice(channel)
        break
      }
      this.read(channel)
    }
    const start = begin + at
    const from = Math.round((this.next - start) / PER_BIT)
    const { noise } = channel
    const amplitude = Math.abs(channel.taps[NEIGHBOURS]!)
    const out: ReadBit[] = []
    for (let k = from; k < from + CORE; k++) out.push({ llr: this.llr[k]!, at: start + k * PER_BIT, amplitude, noise })
    this.next = start + (from + CORE) * PER_BIT
    return out
  }

  /** Place of the first bit's middle: the power swings with the bits, and is largest there. */
  private timing(offset: number): number {
    let [sr, si] = [0, 0]
    for (let i = 0; i < (WINDOW + 1) * PER_BIT; i++) {
      const power = this.filtered[offset + i]! ** 2
      sr += power * COS[i % PER_BIT]!
      si += power * SIN[i % PER_BIT]!
    }
    const place = (Math.atan2(si, sr) / (2 * Math.PI)) * PER_BIT
    return place < 1 ? place + PER_BIT : place
  }

  /** Values at the middles of the bits, by a cubic through four samples. */
  private sample(offset: number, at: number): void {
    const whole = Math.floor(at)
    const t = at - whole
    let mean = 0
    for (let k = 0; k < WINDOW; k++) {
      const i = offset + whole + k * PER_BIT
      const [a, b, c, d] = [this.filtered[i - 1] ?? 0, this.filtered[i]!, this.filtered[i + 1]!, this.filtered[i + 2]!]
      this.values[k] = b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)))
      mean += this.values[k]! / WINDOW
    }
    for (let k = 0; k < WINDOW; k++) this.values[k]! -= mean
  }

  private firstGuess(): PulseChannel {
    const amplitude = this.values.reduce((sum, value) => sum + Math.abs(value), 0) / WINDOW
    const power = this.values.reduce((sum, value) => sum + value * value, 0) / WINDOW
    const taps = new Float64Array(TAPS)
    taps[NEIGHBOURS] = amplitude
    return { taps, noise: Math.max(power - amplitude ** 2, LEAST_NOISE * power) + 1e-30 }
  }

  /** Each bit alone, where neighbours add nothing. */
  private slice({ taps, noise }: PulseChannel): void {
    const scale = (2 * taps[NEIGHBOURS]!) / noise
    for (let k = 0; k < WINDOW; k++) this.llr[k] = scale * this.values[k]!
  }

  /** Forwards and backwards over what the last bits were. */
  private read({ taps, noise }: PulseChannel): void {
    const { values, weights, forward, backward, llr } = this
    const scale = 0.5 / noise
    const expected = new Float64Array(STATES * 2)
    for (let bits = 0; bits < STATES * 2; bits++) for (let j = 0; j < TAPS; j++) expected[bits]! += taps[j]! * ((bits >> j) & 1 ? 1 : -1)
    for (let k = 0; k < WINDOW; k++) {
      let least = Infinity
      for (let bits = 0; bits < STATES * 2; bits++) {
        const off = (values[k]! - expected[bits]!) ** 2 * scale
        weights[k * STATES * 2 + bits] = off
        if (off < least) least = off
      }
      for (let bits = 0; bits < STATES * 2; bits++) {
        const at = k * STATES * 2 + bits
        weights[at] = Math.exp(least - weights[at]!)
      }
    }
    forward.fill(1 / STATES, 0, STATES)
    for (let k = 0; k < WINDOW; k++) {
      // Bits of a state: the newest is lowest; a value at k is of the bit that came NEIGHBOURS before its newest.
      let sum = 0
      for (let state = 0; state < STATES; state++) {
        const older = state >> 1
        const a = forward[k * STATES + older]! * weights[k * STATES * 2 + state]!
        const b = forward[k * STATES + older + STATES / 2]! * weights[k * STATES * 2 + state + STATES]!
        sum += forward[(k + 1) * STATES + state] = a + b
      }
      for (let state = 0; state < STATES; state++) forward[(k + 1) * STATES + state]! /= sum
    }
    backward.fill(1, WINDOW * STATES)
    for (let k = WINDOW - 1; k >= 0; k--) {
      let sum = 0
      for (let before = 0; before < STATES; before++) {
        let value = 0
        for (let bit = 0; bit < 2; bit++) {
          const bits = (before << 1) | bit
          value += weights[k * STATES * 2 + bits]! * backward[(k + 1) * STATES + (bits & (STATES - 1))]!
        }
        sum += backward[k * STATES + before] = value
      }
      for (let before = 0; before < STATES; before++) backward[k * STATES + before]! /= sum
    }
    for (let k = 0; k < WINDOW; k++) {
      // The bit in the middle of value k stands NEIGHBOURS up in the state after it.
      let [zero, one] = [1e-300, 1e-300]
      for (let state = 0; state < STATES; state++) {
        const p = forward[(k + 1) * STATES + state]! * backward[(k + 1) * STATES + state]!
        if ((state >> NEIGHBOURS) & 1) one += p
        else zero += p
      }
      llr[k] = Math.log(one / zero)
    }
  }

  /** What each neighbour adds, from the bits as they were read. */
  private learn(): PulseChannel {
    const { values, llr } = this
    const bits = llr.map((value) => Math.sign(value))
    const bit = (k: number) => bits[k]!
    const taps = new Float64Array(TAPS)
    for (let j = 0; j < TAPS; j++) {
      // Tap j is of the bit that is j newer than the oldest: NEIGHBOURS - j before the middle's.
      let [sum, count] = [0, 0]
      for (let k = NEIGHBOURS; k < WINDOW - NEIGHBOURS; k++) {
        const b = bit(k + NEIGHBOURS - j)
        sum += values[k]! * b
        count += b * b
      }
      taps[j] = sum / (count + 1e-9)
    }
    const main = taps[NEIGHBOURS]!
    const [alone, together] = [0, NEIGHBOURS].map((reach) => {
      let sum = 0
      for (let k = NEIGHBOURS; k < WINDOW - NEIGHBOURS; k++) {
        let off = values[k]!
        for (let j = NEIGHBOURS - reach; j <= NEIGHBOURS + reach; j++) off -= taps[j]! * bit(k + NEIGHBOURS - j)
        sum += off * off
      }
      return Math.max(sum / (WINDOW - 2 * NEIGHBOURS), LEAST_NOISE * main * main) + 1e-30
    }) as [number, number]
    if (together < MUCH_LESS * alone) return { taps, noise: together }
    return { taps: taps.map((tap, j) => (j === NEIGHBOURS ? tap : 0)), noise: alone }
  }
}

const isStraight = ({ taps }: PulseChannel) => taps.every((tap, j) => j === NEIGHBOURS || tap === 0)

interface PulseChannel {
  /** What bits add to a value: the bit NEIGHBOURS after it first. */
  taps: Float64Array
  noise: number
}

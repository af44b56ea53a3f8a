import { LEAST_NOISE, PhaseReader, SILENCE, type ToneChannel, type ToneIntegrals } from './phaseReader'

/** Levels that are read at once, and those before and after them that help. */
const CORE = 96
const SIDE = 24
const WINDOW = CORE + 2 * SIDE
/** How freely the phase may wander: where the carrier is not known, when it was found, and where it has been followed. */
const WANDERS = { unknown: 0.3, found: 0.05, followed: 0.006 }
/** A change of the sender within a stretch must make it so much likelier, as a logarithm. */
const CHANGE_COSTS = 8
/** Fewer levels are not learned from. */
const SHORTEST = 16
/** What is known is kept without a look for something else while the power of each part of a stretch is so near to what it should be. */
const NEAR = 0.35
const PARTS = 4
/** So near, as a share of a level, must its timing be. */
const IN_TIME = 0.15
/** Noise alone looks no stronger than so much of itself; it has no timing. */
const SILENT = 1.5
/** A timing that moves by less is not read anew for. */
const MOVES = 0.05
/** Samples in which a tone turns once against the middle between them, at both shifts in use. */
const PER_TURN = 24
const COS = Float64Array.from({ length: PER_TURN }, (_, i) => Math.cos((2 * Math.PI * i) / PER_TURN))
const SIN = Float64Array.from({ length: PER_TURN }, (_, i) => Math.sin((2 * Math.PI * i) / PER_TURN))

/** What was read of one level. */
export interface ReadLevel {
  /** Logarithm of how much likelier the higher tone is than the lower one. */
  llr: number
  /** Begin of the level, in samples of what was pushed. */
  at: number
  /** What it was read with. */
  channel: ToneChannel
}

/** A way to read a stretch: the channel, where its levels begin, and what was made of them. */
interface Reading {
  channel: ToneChannel
  /** Begin of the first level, in samples of the stretch. */
  at: number
  /** Of each level. */
  llr: Float64Array
}

/** Reads levels out of a complex baseband whose zero is the middle between the tones. */
export class ToneReader {
  private readonly re = new Float64Array(8192)
  private readonly im = new Float64Array(8192)
  /** Samples that came, and the place of the first one that is kept. */
  private count = 0
  private first = 0
  /** Where the next stretch's core begins. */
  private next: number
  private readonly reader: PhaseReader
  private readonly integrals: ToneIntegrals
  private readonly sums: Sums
  /** The channel as it is at the end of the last stretch. */
  private known: ToneChannel | undefined

  /** @param perLevel samples in a level @param shift distance of the tones by the speed */
  constructor(
    private readonly perLevel: number,
    private readonly shift: number,
  ) {
    this.next = (SIDE + 1) * perLevel
    const pair = (length: number) => [new Float64Array(length), new Float64Array(length)] as const
    this.integrals = { count: WINDOW, re: pair(WINDOW), im: pair(WINDOW) }
    const length = (WINDOW + 2) * perLevel
    this.sums = { length, re: pair(length), im: pair(length) }
    this.reader = new PhaseReader(shift, WINDOW)
  }

  push(re: Float32Array | Float64Array, im: Float32Array | Float64Array): ReadLevel[] {
    const out: ReadLevel[] = []
    const piece = this.perLevel * CORE
    for (let at = 0; at < re.length; at += piece) {
      this.keep(re.subarray(at, at + piece), im.subarray(at, at + piece))
      while (this.count >= this.next + (CORE + SIDE + 3) * this.perLevel) out.push(...this.readStretch())
    }
    return out
  }

  private keep(re: Float32Array | Float64Array, im: Float32Array | Float64Array): void {
    const held = this.count - this.first
    if (held + re.length > this.re.length) {
      const from = Math.max(this.first, Math.floor(this.next - (SIDE + 3) * this.perLevel))
      this.re.copyWithin(0, from - this.first, held)
      this.im.copyWithin(0, from - this.first, held)
      this.first = from
    }
    this.re.set(re, this.count - this.first)
    this.im.set(im, this.count - this.first)
    this.count += re.length
  }

  private readStretch(): ReadLevel[] {
    const begin = Math.max(this.first, Math.floor(this.next - (SIDE + 1) * this.perLevel))
    this.sumFrom(begin)
    if (!this.known) return this.take(begin, [{ reading: this.readFrom(begin, 0, this.find(begin)), upTo: WINDOW }])
    const followed = this.follow(begin, this.known)
    if ((powerOf(this.known) < SILENT * this.known.noise || this.isInTime(followed.at)) && this.isAsKnown(this.known))
      return this.take(begin, [{ reading: followed, upTo: WINDOW }])
    const found = this.find(begin)
    // Where one sender ends and another one begins, or noise, each part is read with its own channel.
    const least = LEAST_NOISE * Math.max(powerOf(this.known), powerOf(found.channel))
    const noise = Math.max(least, Math.min(this.known.noise, found.channel.noise))
    const known = this.likelihoods(begin, { ...followed, channel: this.known }, noise)
    const change = changeBetween(known, this.likelihoods(begin, found, noise))
    if (change === 0) return this.take(begin, [{ reading: this.readFrom(begin, 0, found), upTo: WINDOW }])
    if (change > WINDOW - SHORTEST) return this.take(begin, [{ reading: { ...followed, channel: this.known }, upTo: WINDOW }])
    // What its own part taught says better where it begins.
    const rest = this.findFrom(begin, change)
    const begins = changeBetween(known, this.likelihoods(begin, rest, noise))
    if (begins > WINDOW - SHORTEST) return this.take(begin, [{ reading: { ...followed, channel: this.known }, upTo: WINDOW }])
    return this.take(begin, [
      { reading: followed, upTo: begins },
      { reading: this.readFrom(begin, begins, rest), upTo: WINDOW },
    ])
  }

  /** Reads on with the channel that is known, where its levels go on. The channel is as this stretch makes it. */
  private follow(begin: number, known: ToneChannel): Reading {
    const place = (this.next - begin) % this.perLevel
    this.integrate(begin, place)
    let channel = this.reader.read(this.integrals, { ...known, wanders: WANDERS.followed })
    const at = this.refined(place, known)
    if (Math.abs(at - place) > MOVES * this.perLevel) {
      this.integrate(begin, at)
      channel = this.reader.read(this.integrals, { ...known, wanders: WANDERS.followed })
    }
    return this.reading(channel, at)
  }

  /** Whether levels begin where the stretch as a whole says. */
  private isInTime(at: number): boolean {
    const turns = (at - timingOf(this.sums, this.perLevel)) / this.perLevel
    return Math.abs(turns - Math.round(turns)) < IN_TIME
  }

  /** Whether a stretch that was just read has the power all over that its channel should have. */
  private isAsKnown({ gains, noise }: ToneChannel): boolean {
    const { re, im } = this.integrals
    const { llr } = this.reader
    const powers = gains.map((gain) => (gain.re ** 2 + gain.im ** 2) * (1 + leakOf(this.shift)) + 2 * noise)
    const length = WINDOW / PARTS
    for (let from = 0; from < WINDOW; from += length) {
      let [sum, expected] = [0, 0]
      for (let k = from; k < from + length; k++) {
        sum += re[0][k]! ** 2 + im[0][k]! ** 2 + re[1][k]! ** 2 + im[1][k]! ** 2
        expected += powers[llr[k]! > 0 ? 1 : 0]!
      }
      if (Math.abs(sum / expected - 1) > NEAR) return false
    }
    return true
  }

  /** Reads a stretch of which nothing is known. */
  private find(begin: number): Reading {
    const place = timingOf(this.sums, this.perLevel)
    this.integrate(begin, place)
    const channel = this.reader.read(this.integrals, { ...firstGuess(this.integrals, this.shift), wanders: WANDERS.unknown })
    const at = this.refined(place, channel)
    this.integrate(begin, at)
    return this.reading(this.reader.read(this.integrals, { ...channel, wanders: WANDERS.found }), at)
  }

  /** Reads the end of a stretch so, from a level on. */
  private findFrom(begin: number, level: number): Reading {
    const at = timingOf(cut(this.sums, level * this.perLevel), this.perLevel)
    this.integrate(begin, at)
    const rest = tail(this.integrals, level)
    const guess = this.reader.read(rest, { ...firstGuess(rest, this.shift), wanders: WANDERS.unknown })
    return this.reading(this.reader.read(rest, { ...guess, wanders: WANDERS.found }), at)
  }

  private readFrom(begin: number, level: number, { channel, at }: Reading): Reading {
    this.integrate(begin, at)
    const reading = this.reading(this.reader.read(tail(this.integrals, level), { ...channel, wanders: WANDERS.followed }), at)
    reading.llr.copyWithin(level, 0, WINDOW - level)
    return reading
  }

  /** How likely each level is, beside noise of a strength. */
  private likelihoods(begin: number, { channel, at }: Reading, noise: number): Float64Array {
    this.integrate(begin, at)
    this.reader.judge(this.integrals, { ...channel, noise, wanders: WANDERS.followed })
    return this.reader.likelihood.slice()
  }

  private reading(channel: ToneChannel, at: number): Reading {
    return { channel, at, llr: this.reader.llr.slice() }
  }

  /** Levels of the core from each reading up to its level; the last one's channel goes on. */
  private take(begin: number, parts: readonly { reading: Reading; upTo: number }[]): ReadLevel[] {
    const { perLevel } = this
    const out: ReadLevel[] = []
    const end = this.next + CORE * perLevel
    for (const { reading, upTo } of parts) {
      const start = begin + reading.at
      let k = Math.max(0, Math.round((this.next - start) / perLevel))
      for (; k < upTo && start + (k + 0.5) * perLevel < end; k++)
        out.push({ llr: reading.llr[k]!, at: start + k * perLevel, channel: reading.channel })
      this.next = start + k * perLevel
      this.known = reading.channel
    }
    return out
  }

  /** Sums over a level's length from each sample on, at both tones. */
  private sumFrom(begin: number): void {
    const { perLevel, sums } = this
    const { length } = sums
    const whole = length + perLevel
    const [xr, xi] = [new Float64Array(whole), new Float64Array(whole)]
    for (let tone = 0; tone < 2; tone++) {
      const sign = tone === 0 ? 1 : -1
      for (let i = 0; i < whole; i++) {
        const k = begin - this.first + i
        const turn = (begin + i) % PER_TURN
        const c = COS[turn]!
        const s = sign * SIN[turn]!
        xr[i] = (this.re[k]! * c - this.im[k]! * s) / perLevel
        xi[i] = (this.re[k]! * s + this.im[k]! * c) / perLevel
      }
      let [r, q] = [0, 0]
      for (let i = 0; i < perLevel; i++) {
        r += xr[i]!
        q += xi[i]!
      }
      for (let i = 0; i < length; i++) {
        sums.re[tone]![i] = r
        sums.im[tone]![i] = q
        r += xr[i + perLevel]! - xr[i]!
        q += xi[i + perLevel]! - xi[i]!
      }
    }
  }

  /** Integrals of whole levels, the first of which begins at a place that need not be a whole sample. */
  private integrate(begin: number, at: number): void {
    const { perLevel, shift, integrals, sums } = this
    for (let tone = 0; tone < 2; tone++) {
      const sign = tone === 0 ? -1 : 1
      const [sr, si] = [sums.re[tone]!, sums.im[tone]!]
      const whole = Math.floor(at)
      const part = at - whole
      // As of the middle between the tones, whose phase turns by half a shift in a level.
      const angle = (sign * Math.PI * shift * (begin + at)) / perLevel
      const [onRe, onIm] = [Math.cos(Math.PI * shift), sign * Math.sin(Math.PI * shift)]
      let [c, s] = [Math.cos(angle), Math.sin(angle)]
      for (let k = 0; k < WINDOW; k++) {
        const i = whole + k * perLevel
        const r = sr[i]! * (1 - part) + sr[i + 1]! * part
        const q = si[i]! * (1 - part) + si[i + 1]! * part
        integrals.re[tone]![k] = r * c - q * s
        integrals.im[tone]![k] = r * s + q * c
        ;[c, s] = [c * onRe - s * onIm, s * onRe + c * onIm]
      }
    }
  }

  /** Timing as the levels that were read last make it likeliest. */
  private refined(at: number, { gains }: ToneChannel): number {
    const { perLevel, reader, sums } = this
    // What overlaps with a stronger tone has more power: the weaker one says less.
    const weights = gains.map(({ re, im }) => re * re + im * im)
    const power = (place: number) => {
      const whole = Math.floor(place)
      const part = place - whole
      let sum = 0
      for (let k = 0; k < WINDOW; k++) {
        const tone = reader.llr[k]! > 0 ? 1 : 0
        const i = whole + k * perLevel
        const r = sums.re[tone]![i]! * (1 - part) + sums.re[tone]![i + 1]! * part
        const q = sums.im[tone]![i]! * (1 - part) + sums.im[tone]![i + 1]! * part
        sum += weights[tone]! * (r * r + q * q)
      }
      return sum
    }
    const reach = perLevel / 8
    if (at < reach) return at
    const [before, here, after] = [power(at - reach), power(at), power(at + reach)]
    const bend = before - 2 * here + after
    const move = bend < 0 ? (0.5 * (before - after)) / bend : 0
    return at + reach * Math.max(-1, Math.min(1, move))
  }
}

interface Sums {
  length: number
  re: readonly [Float64Array, Float64Array]
  im: readonly [Float64Array, Float64Array]
}

/** Power of a level in the mean of both tones. */
export const powerOf = ({ gains }: ToneChannel) => gains.reduce((sum, { re, im }) => sum + re * re + im * im, 0) / 2
/** Of one tone's power, so much is in the integral at the other one. */
const leakOf = (shift: number) => (Math.sin(Math.PI * shift) / (Math.PI * shift)) ** 2
const tail = ({ re, im }: ToneIntegrals, from: number): ToneIntegrals => ({
  count: WINDOW - from,
  re: [re[0].subarray(from), re[1].subarray(from)],
  im: [im[0].subarray(from), im[1].subarray(from)],
})
const cut = ({ length, re, im }: Sums, from: number): Sums => ({
  length: length - from,
  re: [re[0].subarray(from), re[1].subarray(from)],
  im: [im[0].subarray(from), im[1].subarray(from)],
})

/** The level from which on the second way to read is likelier, 0 for all of them and the window's length for none. */
function changeBetween(before: Float64Array, after: Float64Array): number {
  let sum = after.reduce((total, value) => total + value, 0)
  let best = { level: 0, sum: sum + CHANGE_COSTS }
  for (let k = 0; k < WINDOW; k++) {
    sum += before[k]! - after[k]!
    const whole = k === WINDOW - 1 ? sum + CHANGE_COSTS : sum
    if (whole > best.sum) best = { level: k + 1, sum: whole }
  }
  return best.level
}

/** The channel from each level alone and from how each goes on to the next. */
function firstGuess(integrals: ToneIntegrals, shift: number): Omit<ToneChannel, 'wanders'> {
  const { re, im, count } = integrals
  const powers = [0, 1].map((tone) => Float64Array.from({ length: count }, (_, k) => re[tone]![k]! ** 2 + im[tone]![k]! ** 2))
  // A tone is on in half of the levels or so, whatever its strength.
  let level = powers.map((power) => Float64Array.from(power).sort()[Math.floor(0.8 * count)]! + 1e-30)
  let isHigh: boolean[] = []
  let noise = 0
  for (let round = 0; round < 3; round++) {
    isHigh = Array.from({ length: count }, (_, k) => powers[1]![k]! / level[1]! > powers[0]![k]! / level[0]!)
    const on = [0, 0]
    const counts = [0, 0]
    let off = 0
    for (let k = 0; k < count; k++) {
      const tone = isHigh[k] ? 1 : 0
      on[tone]! += powers[tone]![k]!
      counts[tone]!++
      off += powers[1 - tone]![k]!
    }
    noise = (1.2 * off) / count + SILENCE
    level = level.map((before, tone) => (counts[tone]! > 2 ? on[tone]! / counts[tone]! : before))
  }
  const { phase, turn } = phasesOf(integrals, isHigh, shift)
  const gains = level.map((power, tone) => {
    const amplitude = Math.sqrt(Math.max(power - noise, 0.25 * power))
    return tone === 0 ? { re: amplitude, im: 0 } : { re: amplitude * Math.cos(phase), im: amplitude * Math.sin(phase) }
  })
  return { gains, noise, turn }
}

/** How much the higher tone's phase is ahead, and how far both turn on with each level. */
function phasesOf({ count, re, im }: ToneIntegrals, isHigh: readonly boolean[], shift: number): { phase: number; turn: number } {
  const [c, s] = [Math.cos(Math.PI * shift), Math.sin(Math.PI * shift)]
  const same = { re: 0, im: 0 }
  const up = { re: 0, im: 0 }
  const down = { re: 0, im: 0 }
  for (let k = 1; k < count; k++) {
    const [a, b] = [isHigh[k - 1] ? 1 : 0, isHigh[k] ? 1 : 0]
    const [ar, ai, br, bi] = [re[a]![k - 1]!, im[a]![k - 1]!, re[b]![k]!, im[b]![k]!]
    const [zr, zi] = [br * ar + bi * ai, bi * ar - br * ai]
    const sum = a === b ? same : b === 1 ? up : down
    // The step of the level before is taken out.
    sum.re += zr * c + (a === 1 ? zi : -zi) * s
    sum.im += zi * c + (a === 1 ? -zr : zr) * s
  }
  const turn = Math.atan2(same.im, same.re)
  const [tc, ts] = [Math.cos(turn), Math.sin(turn)]
  const [ur, ui] = [up.re * tc + up.im * ts, up.im * tc - up.re * ts]
  const [dr, di] = [down.re * tc + down.im * ts, down.im * tc - down.re * ts]
  return { phase: Math.atan2(ui - di, ur + dr), turn }
}

/** Where levels begin, from how the difference between the tones' powers swings: it is largest where a sum lies within one level. */
function timingOf({ length, re, im }: Sums, perLevel: number): number {
  const difference = new Float64Array(length)
  let mean = 0
  for (let i = 0; i < length; i++) {
    difference[i] = re[1]![i]! ** 2 + im[1]![i]! ** 2 - re[0]![i]! ** 2 - im[0]![i]! ** 2
    mean += difference[i]! / length
  }
  let [sr, si] = [0, 0]
  for (let i = 0; i < length; i++) {
    const square = (difference[i]! - mean) ** 2
    sr += square * Math.cos((2 * Math.PI * i) / perLevel)
    si += square * Math.sin((2 * Math.PI * i) / perLevel)
  }
  const place = (Math.atan2(si, sr) / (2 * Math.PI)) * perLevel
  return place < 0 ? place + perLevel : place
}

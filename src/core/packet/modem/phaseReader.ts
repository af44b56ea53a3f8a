/**
 * Levels out of tones without a jump of phase, with the phase of the carrier over all of a stretch: forwards and backwards over steps of
 * phase. From one level to the next the phase advances by half a shift more or less than the middle between the tones does; both
 * shifts in use (5/6 and 2/3 of the speed) are whole steps.
 */

/** Steps of phase in a turn. */
const STEPS = 12
/** Noise is taken to be as much of the signal at least: no channel is as exact as its model. */
export const LEAST_NOISE = 0.01
/** Power of what is no sound at all: digital silence is not divided by. */
export const SILENCE = 1e-12
/** Likelihoods beyond this are as good as certain; their products stay numbers. */
const MOST = 300
const COS = Float64Array.from({ length: STEPS }, (_, i) => Math.cos((2 * Math.PI * i) / STEPS))
const SIN = Float64Array.from({ length: STEPS }, (_, i) => Math.sin((2 * Math.PI * i) / STEPS))

/** Parts of a power of two in the tables: likelihoods are exact to a quarter of a hundredth. */
const PARTS = 256
const PER_UNIT = PARTS / Math.LN2
const MOST_POWER = Math.ceil(MOST / Math.LN2) + 1
const POWERS = Float64Array.from({ length: 2 * MOST_POWER + 1 }, (_, i) => 2 ** (i - MOST_POWER))
const BETWEEN = Float64Array.from({ length: PARTS }, (_, i) => 2 ** ((i + 0.5) / PARTS))

/** What a stretch is read with. */
export interface ToneChannel {
  /** Complex gains of the two tones, the lower one first. */
  gains: { re: number; im: number }[]
  /** Variance of the noise in an integral over one level. */
  noise: number
  /** How far the middle between the tones turns on from one level to the next, in radians. */
  turn: number
  /** How likely the phase moves by a step up, and as much down, from one level to the next. */
  wanders: number
}

/** Integrals over each level at the two tones, the lower one first; phases are as of the middle between the tones. */
export interface ToneIntegrals {
  count: number
  re: readonly [Float64Array, Float64Array]
  im: readonly [Float64Array, Float64Array]
}

/** Reads a stretch; holds its memory, so that a stretch costs none. */
export class PhaseReader {
  /** Where a phase is after a level of the higher tone, and of the lower one. */
  private readonly on: Uint8Array
  private readonly back: Uint8Array
  private readonly weights: Float64Array
  private readonly forward: Float64Array
  private readonly backward: Float64Array
  private readonly carried = new Float64Array(STEPS)
  /** Logarithm of how much likelier the higher tone is, for each level of the last stretch. */
  readonly llr: Float64Array
  /** Logarithms of how likely each level was after those before it, beside noise alone of the strength that was assumed. */
  readonly likelihood: Float64Array

  /** @param shift distance of the tones by the speed @param longest levels in a stretch at most */
  constructor(
    private readonly shift: number,
    longest: number,
  ) {
    const step = Math.round((shift / 2) * STEPS)
    this.on = Uint8Array.from({ length: STEPS }, (_, p) => (p + step) % STEPS)
    this.back = Uint8Array.from({ length: STEPS }, (_, p) => (p - step + STEPS) % STEPS)
    this.weights = new Float64Array(2 * STEPS * longest)
    this.forward = new Float64Array(STEPS * (longest + 1))
    this.backward = new Float64Array(STEPS * (longest + 1))
    this.llr = new Float64Array(longest)
    this.likelihood = new Float64Array(longest)
  }

  /** Reads a stretch with what is known of the channel. The likelihoods are in `llr` then. @returns the channel as it was found by this */
  read(tones: ToneIntegrals, channel: ToneChannel): ToneChannel {
    this.weigh(tones, channel)
    this.goForward(tones.count, channel.wanders)
    this.goBackward(tones.count, channel.wanders)
    return this.learn(tones, channel)
  }

  /** Fills `likelihood` alone, at less than half the cost. */
  judge(tones: ToneIntegrals, channel: ToneChannel): void {
    this.weigh(tones, channel)
    this.goForward(tones.count, channel.wanders)
  }

  private weigh({ count, re, im }: ToneIntegrals, { gains, noise, turn }: ToneChannel): void {
    const { weights } = this
    const scale = 2 / noise
    const opposite = STEPS / 2
    for (let tone = 0; tone < 2; tone++) {
      const { re: gr, im: gi } = gains[tone]!
      const less = Math.exp(-(gr * gr + gi * gi) / noise)
      const [tr, ti] = [re[tone]!, im[tone]!]
      const [onRe, onIm] = [Math.cos(turn), Math.sin(turn)]
      let [c, s] = [1, 0]
      for (let k = 0; k < count; k++) {
        if (k > 0) [c, s] = [c * onRe - s * onIm, s * onRe + c * onIm]
        // Turned back by the carrier's own advance and by the gain's phase.
        const xr = tr[k]! * c + ti[k]! * s
        const xi = ti[k]! * c - tr[k]! * s
        const yr = (gr * xr + gi * xi) * scale
        const yi = (gr * xi - gi * xr) * scale
        const at = STEPS * (2 * k + tone)
        for (let p = 0; p < opposite; p++) {
          const x = yr * COS[p]! + yi * SIN[p]!
          const place = Math.floor((x > MOST ? MOST : x < -MOST ? -MOST : x) * PER_UNIT)
          const likely = POWERS[(place >> 8) + MOST_POWER]! * BETWEEN[place & (PARTS - 1)]!
          weights[at + p] = likely * less
          weights[at + p + opposite] = less / likely
        }
      }
    }
  }

  private goForward(count: number, wanders: number): void {
    const { weights, forward, on, back, carried, likelihood } = this
    forward.fill(1 / STEPS, 0, STEPS)
    for (let k = 0; k < count; k++) {
      const [low, high, from, to] = [2 * STEPS * k, 2 * STEPS * k + STEPS, STEPS * k, STEPS * (k + 1)]
      let sum = 0
      for (let p = 0; p < STEPS; p++) {
        // The lower tone turns the phase back by a step's worth, the higher one on.
        const a = on[p]!
        const b = back[p]!
        const value = forward[from + a]! * weights[low + a]! + forward[from + b]! * weights[high + b]!
        carried[p] = value
        sum += value
      }
      likelihood[k] = Math.log(sum)
      wander(carried, forward, { at: to, scale: 1 / sum, wanders })
    }
  }

  private goBackward(count: number, wanders: number): void {
    const { weights, forward, backward, on, back, carried, llr } = this
    backward.fill(1, STEPS * count, STEPS * (count + 1))
    for (let k = count - 1; k >= 0; k--) {
      const [low, high, to, from] = [2 * STEPS * k, 2 * STEPS * k + STEPS, STEPS * k, STEPS * (k + 1)]
      wander(backward.subarray(from, from + STEPS), carried, { at: 0, scale: 1, wanders })
      let sum = 0
      let [isLow, isHigh] = [0, 0]
      for (let p = 0; p < STEPS; p++) {
        const l = weights[low + p]! * carried[back[p]!]!
        const h = weights[high + p]! * carried[on[p]!]!
        isLow += forward[to + p]! * l
        isHigh += forward[to + p]! * h
        // From here on the weights hold how likely each is, given all that was received.
        weights[low + p] = forward[to + p]! * l
        weights[high + p] = forward[to + p]! * h
        sum += backward[to + p] = l + h
      }
      const all = 1 / (isLow + isHigh)
      for (let p = 0; p < STEPS; p++) {
        backward[to + p]! /= sum
        weights[low + p]! *= all
        weights[high + p]! *= all
      }
      llr[k] = Math.log((isHigh + 1e-30) / (isLow + 1e-30))
    }
  }

  /** The channel that makes what was received likeliest, by how likely each phase and level was. */
  private learn({ count, re, im }: ToneIntegrals, { gains, turn, wanders }: ToneChannel): ToneChannel {
    const { weights } = this
    const sums = [0, 1].map(() => ({ re: 0, im: 0, share: 0, power: 0 }))
    const phases = { re: new Float64Array(count), im: new Float64Array(count) }
    const [onRe, onIm] = [Math.cos(turn), Math.sin(turn)]
    for (let tone = 0; tone < 2; tone++) {
      const sum = sums[tone]!
      let [tc, ts] = [1, 0]
      for (let k = 0; k < count; k++) {
        if (k > 0) [tc, ts] = [tc * onRe - ts * onIm, ts * onRe + tc * onIm]
        const at = STEPS * (2 * k + tone)
        let [c, s, share] = [0, 0, 0]
        for (let p = 0; p < STEPS; p++) {
          const w = weights[at + p]!
          c += w * COS[p]!
          s += w * SIN[p]!
          share += w
        }
        const xr = re[tone]![k]! * tc + im[tone]![k]! * ts
        const xi = im[tone]![k]! * tc - re[tone]![k]! * ts
        sum.re += c * xr + s * xi
        sum.im += c * xi - s * xr
        sum.share += share
        sum.power += share * (xr * xr + xi * xi)
        phases.re[k]! += c
        phases.im[k]! += s
      }
    }
    let rest = 0
    let power = 0
    const found = sums.map((sum, tone) => {
      if (sum.share < 2) return gains[tone]!
      const gain = { re: sum.re / sum.share, im: sum.im / sum.share }
      // Of the stronger one: else its likelihoods would be beyond what they are cut at, and a weak one beside it would seem likelier.
      power = Math.max(power, gain.re ** 2 + gain.im ** 2)
      rest += sum.power - sum.share * (gain.re ** 2 + gain.im ** 2)
      return gain
    })
    return { gains: found, noise: Math.max(rest / count, power * LEAST_NOISE, SILENCE), turn: turn + this.turnsOn(phases, count), wanders }
  }

  /** How far the phase turns on beyond what was assumed, from how it goes after the levels' own steps are taken out. */
  private turnsOn({ re, im }: { re: Float64Array; im: Float64Array }, count: number): number {
    const apart = 8
    let own = 0
    const [ur, ui] = [new Float64Array(count), new Float64Array(count)]
    for (let k = 0; k < count; k++) {
      const [c, s] = [Math.cos(own), Math.sin(own)]
      ur[k] = re[k]! * c + im[k]! * s
      ui[k] = im[k]! * c - re[k]! * s
      own += (this.llr[k]! > 0 ? 1 : -1) * Math.PI * this.shift
    }
    let [sr, si] = [0, 0]
    for (let k = apart; k < count; k++) {
      sr += ur[k]! * ur[k - apart]! + ui[k]! * ui[k - apart]!
      si += ui[k]! * ur[k - apart]! - ur[k]! * ui[k - apart]!
    }
    return Math.atan2(si, sr) / apart
  }
}

/** Lets a phase move by a step. */
function wander(from: Float64Array, to: Float64Array, { at, scale, wanders }: { at: number; scale: number; wanders: number }): void {
  const [stays, moves] = [(1 - 2 * wanders) * scale, wanders * scale]
  const first = from[0]!
  let before = from[STEPS - 1]!
  for (let p = 0; p < STEPS; p++) {
    const here = from[p]!
    const after = p === STEPS - 1 ? first : from[p + 1]!
    to[at + p] = stays * here + moves * (before + after)
    before = here
  }
}

/** Where a carrier is, and how fast it moves. */
export interface CarrierPlace {
  hz: number
  driftHzS: number
}

/** Symbols whose phases are looked at together: two seconds of the usual speed. */
const WINDOW = 64
/** A signal drifts by no more than this. */
const MOST_DRIFT_HZ_S = 1
/** No symbol counts for more than so many times the mean: a click must not outweigh all others. */
const MOST_WEIGHT = 4
/** Steps of the search, as shares of what the window tells apart. */
const FINE = 0.2

/** Squared symbols with their times: the bits are gone from them, and the carrier turns twice as fast. */
export interface SquaredSymbols {
  re: Float64Array
  im: Float64Array
  atS: Float64Array
}

/** Squares symbols and bounds how much each counts. */
export function squared(symbols: readonly { re: number; im: number; atS: number }[]): SquaredSymbols {
  const n = symbols.length
  const out = { re: new Float64Array(n), im: new Float64Array(n), atS: new Float64Array(n) }
  let mean = 0
  for (const { re, im } of symbols) mean += (re * re + im * im) / n
  for (let k = 0; k < n; k++) {
    const { re, im, atS } = symbols[k]!
    const size = re * re + im * im
    const weight = size > MOST_WEIGHT * mean ? (MOST_WEIGHT * mean) / size : 1
    out.atS[k] = atS
    out.re[k] = weight * (re * re - im * im)
    out.im[k] = weight * 2 * re * im
  }
  return out
}

/** How well squared symbols line up on a carrier that is so far from their mixer at a time, and drifts. */
export function agreement({ re, im, atS }: SquaredSymbols, { hz, driftHzS }: CarrierPlace, nowS: number): number {
  const n = re.length
  if (n === 0) return 0
  // Symbols follow each other evenly, but for what their timing is pulled: the turn goes on by a step that itself grows evenly.
  const first = atS[0]! - nowS
  const stepS = n > 1 ? (atS[n - 1]! - atS[0]!) / (n - 1) : 0
  const turnAt = -4 * Math.PI * first * (hz + (driftHzS * first) / 2)
  const step = -4 * Math.PI * stepS * (hz + driftHzS * (first + stepS / 2))
  const grows = -4 * Math.PI * driftHzS * stepS * stepS
  let [cos, sin] = [Math.cos(turnAt), Math.sin(turnAt)]
  let [stepCos, stepSin] = [Math.cos(step), Math.sin(step)]
  const [growCos, growSin] = [Math.cos(grows), Math.sin(grows)]
  let [sumRe, sumIm] = [0, 0]
  for (let k = 0; k < n; k++) {
    const [a, b] = [re[k]!, im[k]!]
    sumRe += a * cos - b * sin
    sumIm += a * sin + b * cos
    const turned = cos * stepCos - sin * stepSin
    sin = cos * stepSin + sin * stepCos
    cos = turned
    const grown = stepCos * growCos - stepSin * growSin
    stepSin = stepCos * growSin + stepSin * growCos
    stepCos = grown
  }
  return Math.hypot(sumRe, sumIm)
}

/** How far from a place the top of the parabola through three values is, in steps; within one step. */
function top(before: number, here: number, after: number): number {
  const bend = before - 2 * here + after
  if (bend >= 0) return Math.sign(after - before)
  return Math.max(-1, Math.min(1, (0.5 * (before - after)) / bend))
}

/** Moves a place by at most a step to where squared symbols agree best. */
export function refined(symbols: SquaredSymbols, place: CarrierPlace, nowS: number, steps: CarrierPlace): CarrierPlace {
  const at = (hz: number, driftHzS: number) => agreement(symbols, { hz, driftHzS }, nowS)
  const here = at(place.hz, place.driftHzS)
  const hz = place.hz + steps.hz * top(at(place.hz - steps.hz, place.driftHzS), here, at(place.hz + steps.hz, place.driftHzS))
  if (steps.driftHzS === 0) return { hz, driftHzS: place.driftHzS }
  const { driftHzS } = place
  // With the drift the place now moves too; about the middle of the window it does not.
  const middleS = nowS - (nowS - symbols.atS[0]!) / 2
  const turned = (change: number) => at(hz + change * (nowS - middleS), driftHzS + change)
  const change = steps.driftHzS * top(turned(-steps.driftHzS), turned(0), turned(steps.driftHzS))
  return { hz: hz + change * (nowS - middleS), driftHzS: Math.max(-MOST_DRIFT_HZ_S, Math.min(MOST_DRIFT_HZ_S, driftHzS + change)) }
}

/** Follows a carrier by the phases of the last symbols as a whole, so that a weak one is held by all of them and not by each. */
export class CarrierTrack {
  /** The last symbols squared, oldest first, with their power. */
  private readonly re = new Float64Array(WINDOW)
  private readonly im = new Float64Array(WINDOW)
  private readonly power = new Float64Array(WINDOW)
  private readonly atS = new Float64Array(WINDOW)
  private count = 0
  private agrees = 0

  /** @param place from the mixer, at the time of the symbol that is pushed next */
  constructor(
    private place: CarrierPlace,
    private placeS: number,
  ) {}

  /** A symbol, mixed down by a mixer that stays the same. */
  push(re: number, im: number, atS: number): void {
    if (this.count === WINDOW) for (const values of [this.re, this.im, this.power, this.atS]) values.copyWithin(0, 1)
    else this.count++
    const at = this.count - 1
    this.re[at] = re * re - im * im
    this.im[at] = 2 * re * im
    this.power[at] = re * re + im * im
    this.atS[at] = atS
  }

  /** Where it is from the mixer at a time, from all up to now. */
  at(nowS: number): CarrierPlace {
    const { driftHzS } = this.place
    return { hz: this.hzAt(nowS), driftHzS }
  }

  /** The same as a number. */
  hzAt(nowS: number): number {
    return this.place.hz + this.place.driftHzS * (nowS - this.placeS)
  }

  /** Share of the last symbols, squared, that lined up on it when it was looked at last: 1 without noise. */
  get aligned(): number {
    return this.agrees
  }

  /** Looks at the last symbols again; drift is told only by a whole window of them. */
  follow(nowS: number): void {
    const n = this.count
    if (n < WINDOW / 4) return
    const lengthS = nowS - this.atS[0]!
    const steps = { hz: FINE / (2 * lengthS), driftHzS: n < WINDOW ? 0 : FINE / (lengthS * lengthS) }
    const all = this.bounded()
    this.place = refined(all, this.at(nowS), nowS, steps)
    this.placeS = nowS
    let sizes = 0
    for (let k = 0; k < n; k++) sizes += Math.hypot(all.re[k]!, all.im[k]!)
    this.agrees = sizes > 0 ? agreement(all, this.place, nowS) / sizes : 0
  }

  /** The squared symbols, none of which counts for more than it may. */
  private bounded(): SquaredSymbols {
    const { count: n, power } = this
    const out = { re: this.re.slice(0, n), im: this.im.slice(0, n), atS: this.atS.subarray(0, n) }
    let mean = 0
    for (let k = 0; k < n; k++) mean += power[k]! / n
    const most = MOST_WEIGHT * mean
    for (let k = 0; k < n; k++) {
      if (power[k]! <= most) continue
      out.re[k]! *= most / power[k]!
      out.im[k]! *= most / power[k]!
    }
    return out
  }

  /** From now on it is taken to stand still. */
  hold(nowS: number): void {
    this.place = { hz: this.at(nowS).hz, driftHzS: 0 }
    this.placeS = nowS
    this.count = 0
    this.agrees = 0
  }
}

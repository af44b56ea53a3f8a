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
  const out = { re: new Float64Array(n), im: new Float64Array(n), atS: Float64Array.from(symbols, ({ atS }) => atS) }
  const mean = symbols.reduce((sum, { re, im }) => sum + re * re + im * im, 0) / Math.max(1, n)
  symbols.forEach(({ re, im }, k) => {
    const size = re * re + im * im
    const weight = size > MOST_WEIGHT * mean ? (MOST_WEIGHT * mean) / size : 1
    out.re[k] = weight * (re * re - im * im)
    out.im[k] = weight * 2 * re * im
  })
  return out
}

/** How well squared symbols line up on a carrier that is so far from their mixer at a time, and drifts. */
export function agreement({ re, im, atS }: SquaredSymbols, { hz, driftHzS }: CarrierPlace, nowS: number): number {
  let [sumRe, sumIm] = [0, 0]
  for (let k = 0; k < re.length; k++) {
    const t = atS[k]! - nowS
    const turn = -4 * Math.PI * t * (hz + (driftHzS * t) / 2)
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
    sumRe += re[k]! * cos - im[k]! * sin
    sumIm += re[k]! * sin + im[k]! * cos
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
  private readonly symbols: { re: number; im: number; atS: number }[] = []

  /** @param place from the mixer, at the time of the symbol that is pushed next */
  constructor(
    private place: CarrierPlace,
    private placeS: number,
  ) {}

  /** A symbol, mixed down by a mixer that stays the same. */
  push(symbol: { re: number; im: number; atS: number }): void {
    this.symbols.push(symbol)
    if (this.symbols.length > WINDOW) this.symbols.shift()
  }

  /** Where it is from the mixer at a time, from all up to now. */
  at(nowS: number): CarrierPlace {
    const { hz, driftHzS } = this.place
    return { hz: hz + driftHzS * (nowS - this.placeS), driftHzS }
  }

  /** Looks at the last symbols again; drift is told only by a whole window of them. */
  follow(nowS: number): void {
    const n = this.symbols.length
    if (n < WINDOW / 4) return
    const lengthS = nowS - this.symbols[0]!.atS
    const steps = { hz: FINE / (2 * lengthS), driftHzS: n < WINDOW ? 0 : FINE / (lengthS * lengthS) }
    this.place = refined(squared(this.symbols), this.at(nowS), nowS, steps)
    this.placeS = nowS
  }

  /** Share of the last symbols, squared, that line up on it: 1 without noise. */
  aligned(nowS: number): number {
    const all = squared(this.symbols)
    const sizes = all.re.reduce((sum, a, k) => sum + Math.hypot(a, all.im[k]!), 0)
    return sizes > 0 ? agreement(all, this.at(nowS), nowS) / sizes : 0
  }

  /** From now on it is taken to stand still. */
  hold(nowS: number): void {
    this.place = { hz: this.at(nowS).hz, driftHzS: 0 }
    this.placeS = nowS
    this.symbols.length = 0
  }
}

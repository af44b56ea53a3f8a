/** What one symbol was received as: a complex number at the middle of the symbol, after the filter matched to the pulse. */
export interface ReceivedSymbol {
  re: number
  im: number
}

/** What the filter matched to the pulse leaves of a symbol in each of its neighbours: the pulse overlaps them. */
const NEIGHBOUR_SHARE = 1 / 6
/** Noise of neighbouring symbols has as much in common: the power of what is new in each, and how much of the one before's to take away. */
const NEW_POWER = (1 + Math.sqrt(1 - 4 * NEIGHBOUR_SHARE ** 2)) / 2
const NEW_SHARE = NEIGHBOUR_SHARE / NEW_POWER
/** What neighbours share counts no more than this, so that a signal without noise overflows nothing. */
const MOST_SHARED = 300
/** Beyond it the exponential of both would be too small for a number. */
const MOST_AT_ONCE = 300
/** Steps of phase in a whole turn. */
const LEVELS = 24
const HALF = LEVELS / 2

const COS = Float64Array.from({ length: HALF }, (_, i) => Math.cos((2 * Math.PI * i) / LEVELS))
const SIN = Float64Array.from({ length: HALF }, (_, i) => Math.sin((2 * Math.PI * i) / LEVELS))

/** Where the phase may stand at a symbol, from all that came before it: how likely each step is. */
export type PhaseBelief = Float64Array

/** How strong the symbols are, and how noisy. */
export interface SymbolStrength {
  amplitude: number
  /** Power of the noise among the symbols. */
  noise: number
}

export interface ReadStretch extends SymbolStrength {
  /** For each symbol: logarithm of how much likelier it is that the phase stayed (1) than that it reversed (0) since the one before. */
  llr: Float64Array
  /** For each symbol: logarithm of how much likelier it is from a signal that goes on from before it than from noise of the same power. */
  evidence: Float64Array
  /** The same against noise alone, as strong as that among the symbols. */
  strength: Float64Array
  /** What is known after the symbols that are decided, for the next stretch to go on from. */
  after: Before
}

/** What a stretch is read with. */
export interface StretchOptions {
  before: Before
  strength: SymbolStrength
  /** Chance that the phase of the carrier moves by one step within a symbol, to either side. */
  wander: number
  /** How many of its symbols are decided by it; all of them where nothing is said. */
  decided?: number
}

/** Memory that one stretch leaves to the next: they are read many times a second. */
const scratch = {
  emission: new Float64Array(0),
  forward: new Float64Array(0),
  strength: new Float64Array(0),
  evidence: new Float64Array(0),
}
const moved = new Float64Array(LEVELS)
const next = new Float64Array(LEVELS)
const back = new Float64Array(LEVELS)

/** Goes through a stretch forwards: how likely each step of phase is after each symbol, from all that came before. */
function goForward(
  symbols: readonly ReceivedSymbol[],
  { before, strength, wander }: StretchOptions,
  against: { evidence: Float64Array; strength: Float64Array },
): { fresh: ReceivedSymbol[]; shared: number; same: number; opposite: number } {
  const n = symbols.length
  const { amplitude, noise } = strength
  if (scratch.emission.length < n * LEVELS) {
    scratch.emission = new Float64Array(n * LEVELS)
    scratch.forward = new Float64Array((n + 1) * LEVELS)
  }
  const { emission, forward } = scratch
  forward.set(before.belief)
  // A neighbour in the same phase adds to a symbol, one in the opposite phase takes away.
  const shared = Math.min(MOST_SHARED, (2 * NEIGHBOUR_SHARE * amplitude * amplitude) / noise)
  const [same, opposite] = [Math.exp(-shared) / 2, Math.exp(shared) / 2]
  const fresh = emit(symbols, { amplitude, noise }, before.fresh, emission, against)
  for (let k = 0; k < n; k++) {
    move(forward, k * LEVELS, moved, wander)
    const [from, to] = [k * LEVELS, (k + 1) * LEVELS]
    let sum = 0
    for (let i = 0; i < HALF; i++) {
      const [a, b] = [moved[i]!, moved[i + HALF]!]
      const p = emission[from + i]! * (same * a + opposite * b)
      const q = emission[from + HALF + i]! * (opposite * a + same * b)
      forward[to + i] = p
      forward[to + HALF + i] = q
      sum += p + q
    }
    for (let i = 0; i < LEVELS; i++) forward[to + i] = forward[to + i]! / sum
    const whole = Math.log(sum)
    against.evidence[k]! += whole
    against.strength[k]! += whole
  }
  return { fresh, shared, same, opposite }
}

/** How much likelier a stretch is so than noise alone, as a logarithm: what it is read for is not found. */
export function judgeStretch(symbols: readonly ReceivedSymbol[], options: StretchOptions): number {
  const n = symbols.length
  if (scratch.strength.length < n) {
    scratch.strength = new Float64Array(n)
    scratch.evidence = new Float64Array(n)
  }
  goForward(symbols, options, scratch)
  let sum = 0
  for (let k = 0; k < n; k++) sum += scratch.strength[k]!
  return sum
}

/** What a stretch goes on from: all that is known of the phase at the symbol before its first, and what was new in that symbol. */
export interface Before {
  belief: PhaseBelief
  fresh: ReceivedSymbol
}

/** Nothing came before. */
export const nothingBefore = (): Before => ({ belief: new Float64Array(LEVELS).fill(1 / LEVELS), fresh: { re: 0, im: 0 } })

/**
 * Reads the bits of a stretch of symbols with the phase of the carrier as it was over all of it. Phase and bits are found together,
 * forwards and backwards over steps of phase. What the neighbours of each symbol add to it through the matched filter, and what their
 * noise has in common, is part of the likelihood: by Ungerboeck's measure, in which two neighbours count with what they share.
 */
export function readStretch(symbols: readonly ReceivedSymbol[], options: StretchOptions): ReadStretch {
  const n = symbols.length
  const { before, strength, wander, decided = n } = options
  const llr = new Float64Array(n)
  const against = { evidence: new Float64Array(n), strength: new Float64Array(n) }
  const meanRe = new Float64Array(n + 2)
  const meanIm = new Float64Array(n + 2)
  let { amplitude, noise } = strength
  const { fresh, shared, same, opposite } = goForward(symbols, options, against)
  const { emission, forward } = scratch
  back.fill(1)
  for (let k = n - 1; k >= 0; k--) {
    const at = (k + 1) * LEVELS
    let sum = 0
    let re = 0
    let im = 0
    for (let i = 0; i < HALF; i++) {
      const p = forward[at + i]! * back[i]!
      const q = forward[at + HALF + i]! * back[HALF + i]!
      sum += p + q
      re += (p - q) * COS[i]!
      im += (p - q) * SIN[i]!
    }
    meanRe[k + 1] = re / sum
    meanIm[k + 1] = im / sum
    const here = k * LEVELS
    for (let i = 0; i < LEVELS; i++) next[i] = emission[here + i]! * back[i]!
    move(next, 0, moved, wander)
    let ones = 0
    let zeros = 0
    let most = 0
    for (let i = 0; i < HALF; i++) {
      const [there, across] = [moved[i]!, moved[i + HALF]!]
      const [from, other] = [forward[here + i]!, forward[here + HALF + i]!]
      ones += from * there + other * across
      zeros += from * across + other * there
      const [p, q] = [same * there + opposite * across, opposite * there + same * across]
      back[i] = p
      back[i + HALF] = q
      most = Math.max(most, p, q)
    }
    for (let i = 0; i < LEVELS; i++) back[i] = back[i]! / most
    llr[k] = Math.log(Math.max(ones, 1e-300) / Math.max(zeros, 1e-300)) - 2 * shared
  }
  const after = { belief: forward.slice(decided * LEVELS, (decided + 1) * LEVELS), fresh: fresh[decided - 1] ?? before.fresh }
  let overlap = 0
  let size = 0
  let power = 0
  // Of the first and the last one neighbour is not known.
  for (let k = 1; k < n - 1; k++) {
    const re = meanRe[k + 1]! + NEIGHBOUR_SHARE * (meanRe[k]! + meanRe[k + 2]!)
    const im = meanIm[k + 1]! + NEIGHBOUR_SHARE * (meanIm[k]! + meanIm[k + 2]!)
    const { re: a, im: b } = symbols[k]!
    overlap += re * a + im * b
    size += re * re + im * im
    power += a * a + b * b
  }
  if (size > 0) amplitude = overlap / size
  noise = Math.max(
    (power - 2 * amplitude * overlap + amplitude * amplitude * size) / Math.max(1, n - 2),
    1e-3 * amplitude * amplitude,
    1e-30,
  )
  return { llr, ...against, after, amplitude, noise }
}

/** How well each step of phase agrees with each symbol, and what of the likelihoods does not depend on the phase. */
function emit(
  symbols: readonly ReceivedSymbol[],
  { amplitude, noise }: SymbolStrength,
  before: ReceivedSymbol,
  emission: Float64Array,
  against: { evidence: Float64Array; strength: Float64Array },
): ReceivedSymbol[] {
  const scale = (2 * amplitude) / noise
  const all = amplitude * amplitude * (1 + 2 * NEIGHBOUR_SHARE ** 2) + noise
  let last = before
  const fresh: ReceivedSymbol[] = []
  for (let k = 0; k < symbols.length; k++) {
    const symbol = symbols[k]!
    const [re, im] = [scale * symbol.re, scale * symbol.im]
    const most = Math.hypot(re, im)
    const at = k * LEVELS
    // What speaks for a step speaks against the opposite one: one exponential gives both, where they are no extremes.
    const both = most < MOST_AT_ONCE ? Math.exp(-2 * most) : 0
    for (let i = 0; i < HALF; i++) {
      const agrees = re * COS[i]! + im * SIN[i]!
      const likely = Math.exp(agrees - most)
      emission[at + i] = likely
      emission[at + HALF + i] = both > 0 ? both / likely : Math.exp(-agrees - most)
    }
    // What is new in a symbol beyond what its noise has in common with the one before.
    last = { re: symbol.re - NEW_SHARE * last.re, im: symbol.im - NEW_SHARE * last.im }
    fresh.push(last)
    against.strength[k] = most - (amplitude * amplitude) / noise
    const whole = (last.re * last.re + last.im * last.im) / NEW_POWER
    against.evidence[k] = against.strength[k]! + whole * (1 / all - 1 / noise) + Math.log(all / noise)
  }
  return fresh
}

/** What a symbol later may be, for the carrier may have moved by one step. */
function move(from: Float64Array, at: number, to: Float64Array, wander: number): void {
  const stays = 1 - 2 * wander
  const last = at + LEVELS - 1
  to[0] = stays * from[at]! + wander * (from[last]! + from[at + 1]!)
  for (let i = 1; i < LEVELS - 1; i++) to[i] = stays * from[at + i]! + wander * (from[at + i - 1]! + from[at + i + 1]!)
  to[LEVELS - 1] = stays * from[last]! + wander * (from[last - 1]! + from[at]!)
}

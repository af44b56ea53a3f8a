/** What one symbol was received as: a complex number at the middle of the symbol, after the filter matched to the pulse. */
export interface ReceivedSymbol {
  re: number
  im: number
}

/** What the filter matched to the pulse leaves of a symbol in each of its neighbours: the pulse overlaps them. */
const NEIGHBOUR_SHARE = 1 / 6
/** Steps of phase in a whole turn. */
const LEVELS = 32
const HALF = LEVELS / 2
/** Chance that the phase of the carrier moves by one step within a symbol, to either side. */
const MOVES = 0.05
const STAYS = 1 - 2 * MOVES

const COS = Float64Array.from({ length: HALF }, (_, i) => Math.cos((2 * Math.PI * i) / LEVELS))
const SIN = Float64Array.from({ length: HALF }, (_, i) => Math.sin((2 * Math.PI * i) / LEVELS))

/** Where the phase may stand at a symbol, from all that came before it: how likely each step is. */
export type PhaseBelief = Float64Array

/** Nothing is known of the phase. */
export const unknownPhase = (): PhaseBelief => new Float64Array(LEVELS).fill(1 / LEVELS)

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
  /** After each symbol, for the next stretch to go on from. */
  beliefs: PhaseBelief[]
}

/**
 * Reads the bits of a stretch of symbols with the phase of the carrier as it was over all of it. Phase and bits are found together,
 * forwards and backwards over steps of phase, and what the neighbours of each symbol add to it is taken away.
 * @param before what is known of the phase at the symbol before the first
 * @param passes how often the neighbours are estimated
 */
export function readStretch(
  symbols: readonly ReceivedSymbol[],
  { before, strength, passes }: { before: PhaseBelief; strength: SymbolStrength; passes: number },
): ReadStretch {
  const n = symbols.length
  const llr = new Float64Array(n)
  const evidence = new Float64Array(n)
  const meanRe = new Float64Array(n + 2)
  const meanIm = new Float64Array(n + 2)
  let { amplitude, noise } = strength
  const emission = new Float64Array(n * LEVELS)
  const forward = new Float64Array((n + 1) * LEVELS)
  forward.set(before)
  const moved = new Float64Array(LEVELS)
  const next = new Float64Array(LEVELS)
  const back = new Float64Array(LEVELS)
  for (let pass = 0; pass < passes; pass++) {
    emit(symbols, { amplitude, noise }, meanRe, meanIm, emission, evidence)
    goForwards(n, emission, forward, moved, evidence)
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
      move(next, 0, moved)
      let ones = 0
      let zeros = 0
      let most = 0
      for (let i = 0; i < HALF; i++) {
        const [there, across] = [moved[i]!, moved[i + HALF]!]
        const [from, opposite] = [forward[here + i]!, forward[here + HALF + i]!]
        ones += from * there + opposite * across
        zeros += from * across + opposite * there
        const both = there + across
        back[i] = both
        back[i + HALF] = both
        if (both > most) most = both
      }
      for (let i = 0; i < LEVELS; i++) back[i] = back[i]! / most
      llr[k] = Math.log(Math.max(ones, 1e-300) / Math.max(zeros, 1e-300))
    }
  }
  const beliefs = Array.from({ length: n }, (_, k) => forward.slice((k + 1) * LEVELS, (k + 2) * LEVELS))
  let overlap = 0
  let size = 0
  let power = 0
  for (let k = 0; k < n; k++) {
    const re = meanRe[k + 1]! + NEIGHBOUR_SHARE * (meanRe[k]! + meanRe[k + 2]!)
    const im = meanIm[k + 1]! + NEIGHBOUR_SHARE * (meanIm[k]! + meanIm[k + 2]!)
    const { re: a, im: b } = symbols[k]!
    overlap += re * a + im * b
    size += re * re + im * im
    power += a * a + b * b
  }
  if (size > 0) amplitude = overlap / size
  noise = Math.max((power - 2 * amplitude * overlap + amplitude * amplitude * size) / Math.max(1, n), 1e-3 * amplitude * amplitude, 1e-30)
  return { llr, evidence, beliefs, amplitude, noise }
}

/** How well each step of phase agrees with each symbol. */
function emit(
  symbols: readonly ReceivedSymbol[],
  { amplitude, noise }: SymbolStrength,
  meanRe: Float64Array,
  meanIm: Float64Array,
  emission: Float64Array,
  evidence: Float64Array,
): void {
  const share = NEIGHBOUR_SHARE * amplitude
  const scale = (2 * amplitude) / noise
  const all = amplitude * amplitude * (1 + 2 * NEIGHBOUR_SHARE ** 2) + noise
  for (let k = 0; k < symbols.length; k++) {
    const alone = { re: symbols[k]!.re - share * (meanRe[k]! + meanRe[k + 2]!), im: symbols[k]!.im - share * (meanIm[k]! + meanIm[k + 2]!) }
    const size = alone.re ** 2 + alone.im ** 2
    const [re, im] = [scale * alone.re, scale * alone.im]
    const most = scale * Math.sqrt(size)
    const at = k * LEVELS
    // What is left of the likelihoods of a signal and of noise when the phase is left aside; half, for either bit.
    const whole = symbols[k]!.re ** 2 + symbols[k]!.im ** 2
    evidence[k] = most - (size + amplitude * amplitude) / noise + whole / all + Math.log(all / noise / 2)
    for (let i = 0; i < HALF; i++) {
      const agrees = re * COS[i]! + im * SIN[i]!
      emission[at + i] = Math.exp(agrees - most)
      emission[at + HALF + i] = Math.exp(-agrees - most)
    }
  }
}

function goForwards(n: number, emission: Float64Array, forward: Float64Array, moved: Float64Array, evidence: Float64Array): void {
  for (let k = 0; k < n; k++) {
    move(forward, k * LEVELS, moved)
    const [from, to] = [k * LEVELS, (k + 1) * LEVELS]
    let sum = 0
    for (let i = 0; i < HALF; i++) {
      const both = moved[i]! + moved[i + HALF]!
      const p = emission[from + i]! * both
      const q = emission[from + HALF + i]! * both
      forward[to + i] = p
      forward[to + HALF + i] = q
      sum += p + q
    }
    for (let i = 0; i < LEVELS; i++) forward[to + i] = forward[to + i]! / sum
    evidence[k] = evidence[k]! + Math.log(sum)
  }
}

/** What a symbol later may be, for the carrier may have moved by one step. */
function move(from: Float64Array, at: number, to: Float64Array): void {
  const last = at + LEVELS - 1
  to[0] = STAYS * from[at]! + MOVES * (from[last]! + from[at + 1]!)
  for (let i = 1; i < LEVELS - 1; i++) to[i] = STAYS * from[at + i]! + MOVES * (from[at + i - 1]! + from[at + i + 1]!)
  to[LEVELS - 1] = STAYS * from[last]! + MOVES * (from[last - 1]! + from[at]!)
}

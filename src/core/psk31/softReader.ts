import { readStretch, unknownPhase, type PhaseBelief, type ReceivedSymbol, type SymbolStrength } from './phaseTrellis'

/** A symbol is decided when so many after it are known: more gained nothing measurable. */
const LAG = 8
/** Share by which the strength of a stretch counts, once there have been some. */
const STRENGTH_SHARE = 0.1
const PASSES = 2
/** Noise over a dozen symbols does not change its power by so much, as a ratio. */
const MOST_CHANGE = 2.5

interface Waiting extends ReceivedSymbol {
  atS: number
  symbol: number
}

/** What was decided of a symbol. */
export interface DecidedBit {
  /** 0 for a reversal since the symbol before, 1 for none. */
  bit: number
  /** How much likelier that is than the other, as a logarithm. */
  sure: number
  /** How much likelier it is a signal's than noise, as a logarithm. */
  evidence: number
  atS: number
  symbol: number
}

/** Reads the bits of one conversation as they come, each with what lies before and a little of what lies after it. */
export class SoftReader {
  private waiting: Waiting[] = []
  private before: PhaseBelief = unknownPhase()
  private strength: SymbolStrength | undefined
  private stretches = 0

  push(symbol: Waiting): void {
    this.waiting.push(symbol)
  }

  /** @returns the bits that are decided by now */
  decide(): DecidedBit[] {
    return this.take(this.waiting.length - LAG)
  }

  /** The last bits, when nothing more comes. */
  flush(): DecidedBit[] {
    return this.take(this.waiting.length)
  }

  private take(count: number): DecidedBit[] {
    if (count <= 0) return []
    const power = meanPower(this.waiting)
    const known = this.strength && power / powerOf(this.strength)
    // Somebody begins or ends: what was before says nothing of it.
    if (known !== undefined && (known > MOST_CHANGE || known < 1 / MOST_CHANGE)) this.strength = undefined
    if (!this.strength) this.stretches = 0
    const begin = { before: this.before, passes: PASSES }
    const strength = this.strength ?? readStretch(this.waiting, { ...begin, strength: halfNoise(power) })
    const read = readStretch(this.waiting, { ...begin, strength })
    const share = Math.max(STRENGTH_SHARE, 1 / ++this.stretches)
    const { amplitude, noise } = this.strength ?? read
    this.strength = { amplitude: amplitude + share * (read.amplitude - amplitude), noise: noise + share * (read.noise - noise) }
    this.before = read.beliefs[count - 1]!
    return this.waiting.splice(0, count).map(({ atS, symbol }, k) => {
      const llr = read.llr[k]!
      return { bit: llr > 0 ? 1 : 0, sure: Math.abs(llr), evidence: read.evidence[k]!, atS, symbol }
    })
  }
}

const meanPower = (symbols: readonly ReceivedSymbol[]) => symbols.reduce((sum, { re, im }) => sum + re * re + im * im, 0) / symbols.length

const powerOf = ({ amplitude, noise }: SymbolStrength) => amplitude * amplitude + noise

/** Before anything is known: nearly half of it noise. */
const halfNoise = (power: number): SymbolStrength => ({ amplitude: Math.sqrt(0.6 * power), noise: 0.4 * power + 1e-30 })

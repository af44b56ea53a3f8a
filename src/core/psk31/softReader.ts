import { judgeStretch, nothingBefore, readStretch, type ReceivedSymbol, type SymbolStrength } from './phaseTrellis'

/** A symbol is decided when so many after it are known: more gained nothing measurable, and with fewer noise was taken for signals. */
const LAG = 8
/** Shares by which the strength and the noise of a stretch count. */
const AMPLITUDE_SHARE = 0.4
const NOISE_SHARE = 0.05
/** No stretch is taken to be noisier than the ones before by more than this, as a ratio. */
const MOST_MORE = 2
/** How quickly it is forgotten that a signal was stronger. */
const FORGOTTEN_SHARE = 0.1
/** A stretch that is so much stronger or weaker than the ones before, as a ratio of powers, is looked at by itself too. */
const CHANGE = 1.8
/** How the phase of a steady carrier moves, and that of one that fades; one in so many stretches is read both ways. */
const STEADY = 0.012
const FADING = 0.14
const TRIED_EVERY = 3
const OTHER_SHARE = 0.3
const OTHER_LIKELIER = 1
/** How much likelier it must be by itself, as a logarithm. */
const LIKELIER = 3
/** A signal is strong from this energy over the noise on; a symbol of no more than that is noise then, and speaks so much against it. */
const STRONG = 16
const NOISE_LIKE = 2.5
const GONE = -1.2
const NOT_GONE = -0.3
/** Noise is at least so much of a signal's power: no receiver is better. */
const LEAST_NOISE = 0.05
/** A symbol that is larger than the strength allows, as a ratio of amplitudes, is a click and counts no more than that. */
const MOST_SIZE = 2.5

interface Waiting extends ReceivedSymbol {
  atS: number
  symbol: number
}

/** What was decided of a symbol. */
export interface DecidedBit {
  /** 0 for a reversal since the symbol before, 1 for none. */
  bit: number
  /** How much likelier it is that the phase stayed (1) than that it reversed, as a logarithm. */
  llr: number
  /** How much likelier it is a signal's than noise, as a logarithm. */
  evidence: number
  atS: number
  symbol: number
}

/** Bits that are decided, and the evidence of the symbols after them, which are not yet. */
export interface Decided {
  bits: DecidedBit[]
  ahead: number[]
}

/** Reads the bits of one conversation as they come, each with what lies before and a little of what lies after it. */
export class SoftReader {
  private waiting: Waiting[] = []
  private before = nothingBefore()
  private amplitude = 0
  /** Power of what is among the symbols beyond the signal, where it is more than the noise of the band. */
  private rest = 0
  /** Chance that the phase moves by a step from symbol to symbol, and how much likelier the other choice was lately. */
  private wander = STEADY
  private other = 0
  private stretches = 0
  /** As strong as it was, lately. */
  private strongest = 0

  /** @param floor power of the noise of the band in a symbol */
  constructor(public floor: number) {}

  /** How strong the symbols are lately, and how noisy. */
  get strength(): SymbolStrength {
    return { amplitude: this.amplitude, noise: Math.max(this.floor, this.rest) }
  }

  /** Whether there was a signal lately that stood clear of the noise. */
  get wasStrong(): boolean {
    return this.strongest ** 2 > STRONG * this.strength.noise
  }

  push(symbol: Waiting): void {
    this.waiting.push(symbol)
  }

  /** @returns the bits that are decided by now */
  decide(): Decided {
    return this.take(this.waiting.length - LAG)
  }

  /** The last bits, when nothing more comes. */
  flush(): Decided {
    return this.take(this.waiting.length)
  }

  private take(count: number): Decided {
    if (count <= 0) return { bits: [], ahead: [] }
    const { before } = this
    const powers = this.waiting.map(({ re, im }) => re * re + im * im).sort((a, b) => a - b)
    // Three in four reach it: where half a stretch is noise, it is still the signal's.
    const upper = powers[Math.floor(0.75 * powers.length)]!
    const symbols = bounded(this.waiting, MOST_SIZE * Math.sqrt(Math.max(upper, this.amplitude ** 2)))
    const noise = Math.max(this.strength.noise, LEAST_NOISE * Math.max(upper, this.amplitude ** 2), 1e-30)
    const optionsAt = (amplitude: number, wander: number) => ({ before, strength: { amplitude, noise }, wander, decided: count })
    const readAt = (amplitude: number) => readStretch(symbols, optionsAt(amplitude, this.wander))
    const alone = Math.max(upper - noise, 0.3 * noise)
    let read = this.amplitude > 0 ? readAt(this.amplitude) : undefined
    const ratio = alone / this.amplitude ** 2
    if (!read || ratio > CHANGE || ratio < 1 / CHANGE) {
      const own = readAt(Math.max(0, readAt(Math.sqrt(alone)).amplitude))
      if (!read || sum(own.strength) > sum(read.strength) + LIKELIER) {
        read = own
        this.amplitude = own.amplitude
      }
    }
    // Now and then it is tried whether the phase stands better than it is taken to, or worse.
    if (++this.stretches % TRIED_EVERY === 0) {
      const wander = this.wander === STEADY ? FADING : STEADY
      const other = judgeStretch(symbols, optionsAt(this.amplitude, wander))
      this.other += OTHER_SHARE * (other - sum(read.strength) - this.other)
      if (this.other > OTHER_LIKELIER) {
        this.wander = wander
        this.other = 0
        read = readAt(this.amplitude)
      }
    }
    this.amplitude = Math.max(0, this.amplitude + AMPLITUDE_SHARE * (read.amplitude - this.amplitude))
    this.rest += NOISE_SHARE * (Math.min(read.noise, MOST_MORE * noise) - this.rest)
    this.strongest = Math.max(this.amplitude, this.strongest + FORGOTTEN_SHARE * (this.amplitude - this.strongest))
    this.before = read.after
    // Where a strong one was, only what is no more than noise speaks against it: one that fades comes back, one that ended does not.
    const { wasStrong } = this
    const evidence = symbols.map(({ re, im }, k) =>
      wasStrong ? (re * re + im * im < NOISE_LIKE * noise ? GONE : Math.max(NOT_GONE, read.evidence[k]!)) : read.evidence[k]!,
    )
    const bits = this.waiting.splice(0, count).map(({ atS, symbol }, k) => {
      const llr = read.llr[k]!
      return { bit: llr > 0 ? 1 : 0, llr, evidence: evidence[k]!, atS, symbol }
    })
    return { bits, ahead: evidence.slice(count) }
  }
}

/** The same symbols, none larger than a size. */
function bounded(symbols: readonly ReceivedSymbol[], size: number): ReceivedSymbol[] {
  return symbols.map((symbol) => {
    const own = Math.hypot(symbol.re, symbol.im)
    return own > size ? { re: (symbol.re * size) / own, im: (symbol.im * size) / own } : symbol
  })
}

const sum = (values: Float64Array) => values.reduce((all, one) => all + one, 0)

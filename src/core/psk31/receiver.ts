import { basebandOf, BASEBAND_HZ, FILTER_NOISE_HZ, SAMPLES_PER_SYMBOL, startOf } from './baseband'
import type { BandSpectrum } from './bandSpectra'
import { BAUD, SYMBOL_S } from './signal'
import { VaricodeReader } from './varicode'

/** What a receiver made of what it heard, one symbol or character after the other. */
export interface HeardCharacter {
  character: string
  /** When its last bit was, in seconds from the first sample. */
  atS: number
}

/** What a conversation does at the moment. */
export type Psk31Doing = 'idle' | 'text' | 'carrier' | 'gone'

/** Share by which each symbol's timing and frequency count. */
const TIMING_SHARE = 1 / 60
const FREQUENCY_SHARE = 1 / 25
/** Phases are judged over this many symbols on either side of a character: what does not stand at 0 or 180 degrees there is noise. */
const JUDGED_SYMBOLS = 20
/** Mean of the doubled phases, 1 when all stand at 0 or 180 degrees: noise reaches 0.5 over forty symbols once in many hours. */
const LEAST_QUALITY = 0.5
const LEAST_ON_A_SIDE = 0.42
/** A spectrum brings some five symbols at once: a character may be judged so much later than it could be. */
const KEPT_SYMBOLS = 2 * JUDGED_SYMBOLS + 8
/** The middle is filtered anew when the tuning has moved so far from it. */
const RECENTRE_HZ = 1
/** The power is measured over about this many symbols. */
const POWER_SHARE = 1 / 40
/** Energy of the pulse of a carrier of amplitude 1: half of three quarters of a symbol. */
const PULSE_ENERGY_S = (0.75 * SYMBOL_S) / 2
/** Power of a signal at the middle of its symbols after the receive filter, 1 before it: measured, see the test. */
const FILTER_GAIN = 0.614

interface Symbol {
  /** Cosine and sine of the doubled phase step. */
  cos: number
  sin: number
  reversed: boolean
}

/**
 * Receives one conversation: follows its frequency and the time of its symbols, reads reversals as zeros, and gives characters
 * once what is around them is known to be a signal.
 */
export class Psk31Receiver {
  private centreHz: number
  private tuneHz: number
  private turn = 0
  private lastRe = 0
  private lastIm = 0
  /** The last samples, for reading between them. */
  private readonly history: { re: number; im: number; atS: number }[] = []
  /** Energy by place within the symbol. */
  private timingCos = 0
  private timingSin = 0
  private samples = 0
  private nextAt = SAMPLES_PER_SYMBOL
  private readonly symbols: Symbol[] = []
  private symbolCount = 0
  private readonly reader = new VaricodeReader()
  private waiting: (HeardCharacter & { symbol: number })[] = []
  /** Mean power at the middle of the symbols. */
  private power = 0

  constructor(frequencyHz: number) {
    this.centreHz = frequencyHz
    this.tuneHz = frequencyHz
  }

  get frequencyHz(): number {
    return this.tuneHz
  }

  /** Mean of the doubled phases of the last symbols: 1 for a signal without noise, about 0.15 for noise. */
  get quality(): number {
    return qualityOf(this.symbols.slice(-2 * JUDGED_SYMBOLS))
  }

  /** Share of the last symbols that reversed the phase. */
  get reversals(): number {
    const lately = this.symbols.slice(-2 * JUDGED_SYMBOLS)
    return lately.length === 0 ? 0 : lately.filter((symbol) => symbol.reversed).length / lately.length
  }

  /** Energy of a bit. @param noiseDensity of the noise that is among what is heard, one-sided */
  bitEnergy(noiseDensity: number): number {
    return (Math.max(0, this.power - 2 * noiseDensity * FILTER_NOISE_HZ) * PULSE_ENERGY_S) / FILTER_GAIN
  }

  get doing(): Psk31Doing {
    if (this.quality < LEAST_QUALITY) return 'gone'
    const lately = this.symbols.slice(-JUDGED_SYMBOLS)
    const reversed = lately.filter((symbol) => symbol.reversed).length / lately.length
    return reversed > 0.95 ? 'idle' : reversed < 0.05 ? 'carrier' : 'text'
  }

  /** @returns characters of which it is known by now that they are a signal's */
  push(spectrum: BandSpectrum): HeardCharacter[] {
    const { re, im } = basebandOf(spectrum, this.centreHz)
    const startS = startOf(spectrum)
    const step = (-2 * Math.PI * (this.tuneHz - this.centreHz)) / BASEBAND_HZ
    for (let i = 0; i < re.length; i++) {
      const [cos, sin] = [Math.cos(this.turn), Math.sin(this.turn)]
      this.turn += step
      this.sample(re[i]! * cos - im[i]! * sin, re[i]! * sin + im[i]! * cos, startS + i / BASEBAND_HZ)
    }
    this.recentre(startS + re.length / BASEBAND_HZ)
    return this.ripe()
  }

  /** What still waits for symbols after it, when nothing more comes. */
  flush(): HeardCharacter[] {
    const out = this.waiting.filter((w) => this.isSignalAt(w.symbol))
    this.waiting = []
    return out
  }

  private sample(re: number, im: number, atS: number): void {
    this.history.push({ re, im, atS })
    if (this.history.length > 2) this.history.shift()
    this.samples++
    // The envelope is greatest in the middle of a symbol, and dips at each reversal.
    const energy = re * re + im * im
    const place = (2 * Math.PI * this.samples) / SAMPLES_PER_SYMBOL
    const share = TIMING_SHARE / SAMPLES_PER_SYMBOL
    this.timingCos += share * (energy * Math.cos(place) - this.timingCos)
    this.timingSin += share * (energy * Math.sin(place) - this.timingSin)
    if (this.samples < this.nextAt) return
    const [before, now] = this.history
    const part = before ? 1 - (this.samples - this.nextAt) : 0
    if (before && now) this.symbol(before.re + part * (now.re - before.re), before.im + part * (now.im - before.im), atS)
    this.nextAt += SAMPLES_PER_SYMBOL + this.timingError() * 0.1
  }

  /** How much later than now symbols should be read, in samples, -6 to 6. */
  private timingError(): number {
    const best = (Math.atan2(this.timingSin, this.timingCos) / (2 * Math.PI)) * SAMPLES_PER_SYMBOL
    const off = (best - this.nextAt) % SAMPLES_PER_SYMBOL
    return off > SAMPLES_PER_SYMBOL / 2 ? off - SAMPLES_PER_SYMBOL : off < -SAMPLES_PER_SYMBOL / 2 ? off + SAMPLES_PER_SYMBOL : off
  }

  private symbol(re: number, im: number, atS: number): void {
    const along = re * this.lastRe + im * this.lastIm
    const across = im * this.lastRe - re * this.lastIm
    this.lastRe = re
    this.lastIm = im
    const power = re * re + im * im
    this.power += POWER_SHARE * (power - this.power)
    const size = Math.hypot(along, across)
    if (size === 0) return
    const doubled = 2 * Math.atan2(across, along)
    this.symbols.push({ cos: Math.cos(doubled), sin: Math.sin(doubled), reversed: along < 0 })
    if (this.symbols.length > KEPT_SYMBOLS) this.symbols.shift()
    this.symbolCount++
    // Half the doubled angle is what the carrier turned within a symbol beyond a reversal.
    this.tuneHz += (FREQUENCY_SHARE * Math.sin(doubled) * BAUD) / (4 * Math.PI)
    const character = this.reader.push(along < 0 ? 0 : 1)
    if (character !== undefined) this.waiting.push({ character, atS, symbol: this.symbolCount })
  }

  private recentre(atS: number): void {
    const moved = this.tuneHz - this.centreHz
    if (Math.abs(moved) < RECENTRE_HZ) return
    this.centreHz += moved
    // The mixer of the new middle has turned further since the first sample: what comes out goes on as it was.
    this.turn = (this.turn + 2 * Math.PI * moved * atS) % (2 * Math.PI)
  }

  private ripe(): HeardCharacter[] {
    const out: HeardCharacter[] = []
    while (this.waiting[0] && this.waiting[0].symbol + JUDGED_SYMBOLS <= this.symbolCount) {
      const { symbol, ...heard } = this.waiting.shift()!
      if (this.isSignalAt(symbol)) out.push(heard)
    }
    return out
  }

  private isSignalAt(symbol: number): boolean {
    const at = this.symbols.length - 1 - (this.symbolCount - symbol)
    const before = this.symbols.slice(Math.max(0, at - JUDGED_SYMBOLS), at + 1)
    const after = this.symbols.slice(at, at + JUDGED_SYMBOLS + 1)
    // Either side alone too: where a signal begins or ends, the other is noise.
    return qualityOf([...before, ...after]) >= LEAST_QUALITY && Math.min(qualityOf(before), qualityOf(after)) >= LEAST_ON_A_SIDE
  }
}

function qualityOf(symbols: readonly Symbol[]): number {
  if (symbols.length < JUDGED_SYMBOLS) return 0
  const cos = symbols.reduce((sum, symbol) => sum + symbol.cos, 0)
  const sin = symbols.reduce((sum, symbol) => sum + symbol.sin, 0)
  return Math.hypot(cos, sin) / symbols.length
}

import { joinSamples } from '../dsp'
import { BAUD, POSTAMBLE_SYMBOLS, PREAMBLE_SYMBOLS, type Baud } from './signal'
import { encodeVaricode } from './varicode'

export interface Psk31ModulatorOptions {
  sampleRateHz: number
  frequencyHz: number
  /** Of the steady carrier, 1 being full scale. */
  amplitude: number
  /** Of the faster members of the family everything else is alike. */
  baud?: Baud
}

type Stage = 'idle' | 'preamble' | 'text' | 'postamble' | 'fade' | 'over'

/**
 * A transmission of PSK31 as it is typed: it begins with reversals, sends what it has been given, idles with reversals while it
 * has nothing, and ends with a steady carrier. A reversal passes through nothing along a cosine; it is never keyed hard.
 */
export class Psk31Modulator {
  private readonly bits: number[] = []
  /** Characters given, by the number of bits after which each is out. */
  private readonly marks: number[] = []
  private given = 0
  private sent = 0
  private characters = 0
  private stage: Stage = 'idle'
  private left = PREAMBLE_SYMBOLS
  private ending = false
  /** Amplitudes between which the present symbol goes, and how far it has come. */
  private from = 0
  private to = 0
  private at = 0
  private phase = 0
  private readonly samplesOfSymbol: number

  constructor(private readonly options: Psk31ModulatorOptions) {
    this.samplesOfSymbol = options.sampleRateHz / (options.baud ?? BAUD)
  }

  /** Characters that are out as a whole. */
  get charactersSent(): number {
    return this.characters
  }

  /** Adds text to what is sent; what has no word is left out. */
  type(text: string): void {
    for (const character of text) {
      const bits = encodeVaricode(character)
      this.bits.push(...bits)
      this.given += bits.length
      this.marks.push(this.given)
    }
  }

  /** Takes back what has not begun to go out. @returns how many characters */
  takeBack(): number {
    const kept = this.marks.findIndex((mark) => mark >= this.sent)
    // The character under way goes out as a whole.
    const whole = kept < 0 ? this.marks.length : kept + 1
    const taken = this.marks.length - whole
    if (taken <= 0) return 0
    this.bits.length -= this.given - this.marks[whole - 1]!
    this.given = this.marks[whole - 1]!
    this.marks.length = whole
    return taken
  }

  /** Ends the transmission when everything is out. */
  end(): void {
    this.ending = true
  }

  /** Fills a buffer. @returns how many samples of it are part of the transmission; fewer than its length once it is over */
  next(out: Float32Array): number {
    const step = (2 * Math.PI * this.options.frequencyHz) / this.options.sampleRateHz
    for (let i = 0; i < out.length; i++) {
      if (this.at <= 0 && !this.nextSymbol()) return i
      const done = 1 - this.at / this.samplesOfSymbol
      const along = (1 - Math.cos(Math.PI * done)) / 2
      const amplitude = this.from === this.to ? this.to : this.from + (this.to - this.from) * along
      out[i] = this.options.amplitude * amplitude * Math.cos(this.phase)
      this.phase = (this.phase + step) % (2 * Math.PI)
      this.at--
    }
    return out.length
  }

  /** @returns whether there is one more */
  private nextSymbol(): boolean {
    // The remainder is kept: symbols need not be whole samples.
    this.at += this.samplesOfSymbol
    this.from = this.to
    if (this.stage === 'idle') {
      this.stage = 'preamble'
      this.to = 1
      return true
    }
    if (this.stage === 'fade') this.stage = 'over'
    if (this.stage === 'over') return false
    const bit = this.nextBit()
    if (bit === undefined) {
      this.stage = 'fade'
      this.to = 0
    } else if (bit === 0) this.to = -this.to
    return true
  }

  private nextBit(): number | undefined {
    if (this.stage === 'preamble') {
      if (this.left-- > 0) return 0
      this.stage = 'text'
    }
    if (this.stage === 'text') {
      const bit = this.bits.shift()
      if (bit !== undefined) {
        this.sent++
        while (this.characters < this.marks.length && this.marks[this.characters]! <= this.sent) this.characters++
        return bit
      }
      if (!this.ending) return 0
      this.stage = 'postamble'
      this.left = POSTAMBLE_SYMBOLS
    }
    return this.left-- > 0 ? 1 : undefined
  }
}

/** A whole transmission of a text. */
export function encodePsk31(text: string, options: Psk31ModulatorOptions): Float32Array {
  const modulator = new Psk31Modulator(options)
  modulator.type(text)
  modulator.end()
  const pieces: Float32Array[] = []
  for (;;) {
    const piece = new Float32Array(options.sampleRateHz)
    const count = modulator.next(piece)
    pieces.push(piece.subarray(0, count))
    if (count < piece.length) break
  }
  return joinSamples(pieces)
}

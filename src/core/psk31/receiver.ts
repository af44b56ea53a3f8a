import type { Acquired } from './acquire'
import { basebandHz, basebandOf, between, noiseOf, SAMPLES_PER_SYMBOL, startOf } from './baseband'
import type { BandSpectrum } from './bandSpectra'
import { CarrierTrack } from './carrierTrack'
import type { LetterModel } from './language/letterModel'
import { TextReader, type SoftBit, type TextCharacter } from './language/textReader'
import { Presence } from './presence'
import type { Baud } from './signal'
import { SoftReader, type Decided } from './softReader'

/** What a receiver made of what it heard, one character after the other. */
export interface HeardCharacter {
  character: string
  /** When its last bit was, in seconds from the first sample. */
  atS: number
  /** How likely the waveform alone makes it: none of its bits is wrong. */
  sure: number
  /** Characters before it that are taken back first: what followed made another reading likelier. Without a character nothing comes in their place. */
  back: number
}

/** What a conversation does at the moment. */
export type Psk31Doing = 'idle' | 'text' | 'carrier' | 'gone'

/** Share by which the timing of each symbol counts. */
const TIMING_SHARE = 1 / 250
/** How quickly symbols are moved to where they are best. */
const TIMING_PULL = 0.1
/** Symbols whose reversals are counted, and over which is said what a conversation does. */
const LATELY = 40
const JUDGED = 20
/** A signal that is so sure to be there may be followed, as a logarithm of odds. */
const FOLLOWED_ODDS = 0
/** With these there surely is one. */
const PRESENT_ODDS = 4
/** The middle is filtered anew when the tuning has moved so far from it, in shares of the symbol rate. */
const RECENTRE_SHARE = 0.02
/** Energy of the pulse of a carrier of amplitude 1, in symbols; and what the matched filter makes of one symbol. */
const PULSE_ENERGY = 3 / 8
const PULSE_AMPLITUDE = 0.75
/** Pieces before the newest whose strength is told. */
const ENERGIES = 4
/** Further back nothing is read anew. */
const MOST_REVISED = 200
/** Bits that are kept for comparing what stands beside: four seconds. */
const KEPT_STEPS = 128
/** So many steady symbols are no part of a character. */
const CARRIER_SYMBOLS = 18
/** Bits before the first of a signal that are read with it. */
const SPARE_BITS = 2
/** Symbols whose evidence is kept: two seconds of the usual speed. */
const KEPT_SYMBOLS = 64

interface Step {
  bit: number
  atS: number
}

/** Share of reversals. */
const zerosIn = (steps: readonly Step[]) => steps.filter(({ bit }) => bit === 0).length / Math.max(1, steps.length)

/**
 * Receives one conversation: follows its carrier and the time of its symbols, reads its bits with the phase over all that is known,
 * and gives the characters that are a signal's.
 */
export class Psk31Receiver {
  readonly baud: Baud
  private readonly track: CarrierTrack
  private readonly presence = new Presence()
  private readonly soft: SoftReader
  private reader = new TextReader(undefined)
  /** All bits until it is known by what they are read, and the evidence after them. */
  private unopened: SoftBit[] | undefined = []
  private ahead: readonly number[] = []
  /** What was read lately and may be taken back, with whether it was given. */
  private given: boolean[] = []
  /** The mixer that the track's symbols are mixed down by. */
  private readonly mixerHz: number
  private centreHz: number
  /** Phase of the carrier that is taken away, and until when. */
  private phase = 0
  private phaseS = 0
  /** The last samples of the piece before, for reading between them. */
  private lastRe = new Float64Array(0)
  private lastIm = new Float64Array(0)
  private samples = 0
  private nextAt: number
  private timingCos: number
  private timingSin: number
  /** Of the last pieces in which there was a signal: the newest may hold its end. */
  private energies: number[] = []
  /** The last bits, with the times of their symbols. */
  private readonly late: Step[] = []
  private symbolCount = 0
  /** The last symbol that followed a steady carrier. */
  private carrierAt = -Infinity
  /** The last symbol at which there surely was a signal. */
  private presentAt = -Infinity
  private nowS: number

  /**
   * @param beginS time of the first sample that it will be given
   * @param noiseDensity of the noise of the band, one-sided
   */
  constructor({ baud, place, timing }: Acquired, beginS: number, noiseDensity: number) {
    this.baud = baud
    this.soft = new SoftReader(noiseOf(noiseDensity, baud))
    this.mixerHz = place.hz
    this.centreHz = place.hz
    this.track = new CarrierTrack({ hz: 0, driftHzS: place.driftHzS }, beginS)
    this.phaseS = beginS
    this.nowS = beginS
    this.timingCos = timing.cos
    this.timingSin = timing.sin
    this.nextAt = (Math.atan2(timing.sin, timing.cos) / (2 * Math.PI)) * SAMPLES_PER_SYMBOL + SAMPLES_PER_SYMBOL
  }

  /**
   * From now on it is read by what people write, as is all that was heard until now: what letters are likely costs the most of all, and is
   * asked only of what is a conversation. Without letters the bits alone are read.
   * @returns the text until now, anew
   */
  readBy(letters: LetterModel | undefined): HeardCharacter[] {
    const bits = this.unopened ?? []
    // Noise before it would be read as all that it may mean. Symbols are counted from one, and each is what its bit ends with.
    const noise = Math.max(0, Math.min(bits.length, this.presence.begins(this.ahead) - 1 - SPARE_BITS))
    this.reader = new TextReader(letters, noise)
    for (const bit of bits.slice(noise)) this.reader.push(bit)
    this.unopened = undefined
    this.given = []
    return this.told(this.reader.change(), this.ahead)
  }

  /** What is known of the noise of the band by now. @param density one-sided */
  hearNoise(density: number): void {
    this.soft.floor = noiseOf(density, this.baud)
  }

  get frequencyHz(): number {
    return this.mixerHz + this.track.hzAt(this.nowS)
  }

  /** How much likelier it is that the last two seconds are a signal than noise, as a logarithm. */
  get evidence(): number {
    return this.presence.lately(KEPT_SYMBOLS)
  }

  /** Share of the last bits that reversed the phase. */
  get reversals(): number {
    return zerosIn(this.late.slice(-LATELY))
  }

  /** How well the phases of the last symbols agree with a carrier that moves evenly, from 0 to 1. */
  get steadiness(): number {
    return this.track.aligned
  }

  /** Energy of a bit, for a carrier of amplitude 1 half a square second. */
  get bitEnergy(): number {
    const amplitude = this.soft.strength.amplitude / PULSE_AMPLITUDE
    return (amplitude * amplitude * PULSE_ENERGY) / this.baud
  }

  /** Whether the last symbols were a steady carrier, one of them perhaps misread. */
  private get isCarrier(): boolean {
    return this.late.length >= CARRIER_SYMBOLS && zerosIn(this.late.slice(-CARRIER_SYMBOLS)) <= 1 / CARRIER_SYMBOLS
  }

  /** The last bits with the times of their symbols. */
  get lateSteps(): readonly Step[] {
    return this.late
  }

  /** The same as it was while there was a signal last: what comes after its end is none of its strength. */
  get signalEnergy(): number {
    return this.energies[0] ?? this.bitEnergy
  }

  get doing(): Psk31Doing {
    if (this.presence.now < FOLLOWED_ODDS) return 'gone'
    const reversed = zerosIn(this.late.slice(-JUDGED))
    return reversed > 0.95 ? 'idle' : reversed < 0.05 ? 'carrier' : 'text'
  }

  /** @returns characters of which it is known by now that they are a signal's */
  push(spectrum: BandSpectrum): HeardCharacter[] {
    const piece = basebandOf(spectrum, this.centreHz, this.baud)
    const startS = startOf(spectrum)
    const rate = basebandHz(this.baud)
    const re = joined(this.lastRe, piece.re)
    const im = joined(this.lastIm, piece.im)
    const first = this.samples - this.lastRe.length
    const share = TIMING_SHARE / SAMPLES_PER_SYMBOL
    for (let i = 0; i < piece.re.length; i++) {
      const energy = piece.re[i]! ** 2 + piece.im[i]! ** 2
      const place = (2 * Math.PI * ((this.samples + i) % SAMPLES_PER_SYMBOL)) / SAMPLES_PER_SYMBOL
      this.timingCos += share * (energy * Math.cos(place) - this.timingCos)
      this.timingSin += share * (energy * Math.sin(place) - this.timingSin)
    }
    while (this.nextAt + 2 < this.samples + piece.re.length) {
      const at = this.nextAt - first
      const whole = Math.floor(at)
      if (whole >= 1) {
        this.symbol(between(re, whole, at - whole), between(im, whole, at - whole), startS + (this.nextAt - this.samples) / rate)
      }
      this.nextAt += SAMPLES_PER_SYMBOL + this.timingError() * TIMING_PULL
    }
    this.samples += piece.re.length
    this.nowS = startS + piece.re.length / rate
    this.lastRe = re.slice(-4)
    this.lastIm = im.slice(-4)
    const heard = this.take(this.soft.decide())
    if (this.presence.now > FOLLOWED_ODDS) {
      this.track.follow(this.nowS)
      this.energies = [...this.energies, this.bitEnergy].slice(-ENERGIES)
    } else this.track.hold(this.nowS)
    this.recentre()
    return heard
  }

  /** What still waits for symbols after it, when nothing more comes. */
  flush(): HeardCharacter[] {
    return this.take(this.soft.flush())
  }

  /** How much later than now symbols should be read, in samples, -3 to 3. */
  private timingError(): number {
    const best = (Math.atan2(this.timingSin, this.timingCos) / (2 * Math.PI)) * SAMPLES_PER_SYMBOL
    const off = (best - this.nextAt) % SAMPLES_PER_SYMBOL
    const half = SAMPLES_PER_SYMBOL / 2
    return off > half ? off - SAMPLES_PER_SYMBOL : off < -half ? off + SAMPLES_PER_SYMBOL : off
  }

  private symbol(re: number, im: number, atS: number): void {
    // The middle's own mixer has run since the first sample: what it turned is put back.
    const apartHz = this.centreHz - this.mixerHz
    if (apartHz !== 0) ({ re, im } = turned(re, im, 2 * Math.PI * ((apartHz * atS) % 1)))
    this.track.push(re, im, atS)
    const sinceS = atS - this.phaseS
    this.phase += 2 * Math.PI * sinceS * this.track.hzAt(atS - sinceS / 2)
    this.phaseS = atS
    const [cos, sin] = [Math.cos(this.phase), Math.sin(this.phase)]
    this.soft.push({ re: re * cos + im * sin, im: im * cos - re * sin, atS, symbol: ++this.symbolCount })
  }

  private take({ bits, ahead }: Decided): HeardCharacter[] {
    for (const { bit, symbol, evidence, atS } of bits) {
      const afterCarrier = this.isCarrier
      if (afterCarrier) this.carrierAt = symbol
      // A carrier ends an over: what comes soon after it is no signal that comes back.
      const mayComeBack = symbol - this.carrierAt > KEPT_SYMBOLS && symbol - this.presentAt < KEPT_SYMBOLS
      this.presence.push(symbol, evidence, { afterCarrier, strong: this.soft.wasStrong && mayComeBack })
      if (this.presence.now > PRESENT_ODDS) this.presentAt = symbol
      this.late.push({ bit, atS })
      if (this.late.length > KEPT_STEPS) this.late.shift()
    }
    for (const { llr, atS } of bits) {
      this.reader.push({ llr, atS })
      this.unopened?.push({ llr, atS })
    }
    this.ahead = ahead
    const out = this.told(this.reader.change(), ahead)
    this.presence.forget(this.symbolCount - MOST_REVISED)
    return out
  }

  /** What has changed in the text, without what is no signal's. */
  private told({ back, added }: { back: number; added: readonly TextCharacter[] }, ahead: readonly number[]): HeardCharacter[] {
    let taken = this.given.splice(this.given.length - back).filter(Boolean).length
    const out: HeardCharacter[] = []
    for (const { character, atS, sure, first, last } of added) {
      // Symbols are counted from one, and each is what its bit ends with.
      const isOurs = this.presence.isSignal(first + 1, last + 1, ahead)
      this.given.push(isOurs)
      if (!isOurs) continue
      out.push({ character, atS, sure, back: taken })
      taken = 0
    }
    if (taken > 0) out.push({ character: '', atS: this.nowS, sure: 1, back: taken })
    if (this.given.length > MOST_REVISED) this.given = this.given.slice(-MOST_REVISED)
    return out
  }

  private recentre(): void {
    const moved = this.frequencyHz - this.centreHz
    if (Math.abs(moved) < RECENTRE_SHARE * this.baud) return
    this.centreHz += moved
    // What was kept of the piece before was mixed down by the middle of before.
    const rate = basebandHz(this.baud)
    for (let i = 0; i < this.lastRe.length; i++) {
      const atS = this.nowS - (this.lastRe.length - i) / rate
      const { re, im } = turned(this.lastRe[i]!, this.lastIm[i]!, -2 * Math.PI * ((moved * atS) % 1))
      this.lastRe[i] = re
      this.lastIm[i] = im
    }
  }
}

function joined(before: Float64Array, piece: Float64Array): Float64Array {
  const out = new Float64Array(before.length + piece.length)
  out.set(before)
  out.set(piece, before.length)
  return out
}

function turned(re: number, im: number, by: number): { re: number; im: number } {
  const [cos, sin] = [Math.cos(by), Math.sin(by)]
  return { re: re * cos - im * sin, im: re * sin + im * cos }
}

// The one place where all conversations of a band are looked after together; past 300 lines because finding them asks for all of them.
import { acquire, type Acquired } from './acquire'
import type { LetterModel } from './language/letterModel'
import { BandSpectra, HOP_SAMPLES, SPECTRUM_SAMPLES, type BandSpectrum } from './bandSpectra'
import { startOf } from './baseband'
import { without } from './cancel'
import { LinearityMeter, type Linearity } from './linearity'
import { occupancyOf } from './occupancy'
import { CLOSE_HZ, hasBitsOf, isFarBelow, isHumCopy, isMuted, isOneSided, isPlain, isTone, mirroredHz, whileSteady } from './ownSignal'
import { Psk31Receiver, type HeardCharacter, type Psk31Doing } from './receiver'
import { meanPower, middleOf, noiseAbout, powerAcross, searchBand, SEARCHED_SPECTRA } from './search'
import { BAUD, SAMPLE_RATE_HZ, SYMBOL_S, type Baud } from './signal'
import { SignalHistory, type Fading } from './signalHistory'
import { UnreadKeeper, type Unread } from './unread'

/** A conversation that is heard. */
export interface Psk31Channel {
  /** Counted from 1; a frequency that is used again soon after keeps its number. */
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Doing
  /** Symbols a second: the usual speed, or one of the faster members of the family. */
  baud: Baud
  /** How it moves and how it comes and goes, once it was there for long enough. */
  driftHzS?: number
  fading?: Fading
  /** How well the phases of its symbols agree, from 0 to 1: noise and an unsteady path both make it less. */
  steadiness: number
  /** Of its transmitter, once it has idled. */
  linearity?: Linearity
}

export interface Psk31Text extends HeardCharacter {
  channel: number
  frequencyHz: number
  snrDb: number
}

/** Spectra that are kept, so that a conversation is read from before it was found: four seconds. */
const KEPT_SPECTRA = 24
const SEARCH_EVERY = 6
/** Nearer than this two are one: the reversals of a strong one have edges that look like signals of their own. */
const SAME_HZ = 24
/** Humps so near to an open one are its own; the line of another one may be found from further away. */
const KNOWN_HZ = 15
/** What is so near to a conversation is what it spills over. */
const SPILLS_HZ = 60
/** And further away what is so much weaker: hum puts its lines so far. */
const SPILLS_WEAKLY_HZ = 200
const SPILLS_BELOW_DB = 6
/** Two finds that are so near to each other are one. */
const SAME_PLACE_HZ = 4
/** Places that one search reads, and how long it is remembered that there was nothing. */
const MOST_TRIED = 20
const TRIED_KEPT_S = 3
/** With so little evidence there was nothing; while as much power stands there as then, give or take this ratio, it is not read again so soon. */
const NOTHING = -8
const AS_BEFORE = 1.25
/** A frequency that is used again, by the other of two perhaps. */
const AGAIN_HZ = 12
/** Evidence of the last two seconds at which a conversation is opened: in an hour of noise no text came of it (`zeptik bench psk31`). */
const LEAST_EVIDENCE = 18
/** With so much against it a place beside a stronger conversation is that one's edge, however strong it is. */
const RULED_OUT = -25
const BESIDE_HZ = 60
/** The faster members of the family; one of the usual speed is surely that with so much evidence. */
const FASTER_BAUDS = [62.5, 125] as const
const SURELY_SLOW = 28
/** Places that one search reads so in vain: each costs as much as six of the usual speed. */
const MOST_FASTER_TRIED = 3
/** One that is as wide as that must show it: over the noise, by evidence, and by more power than the slower reading finds. */
const FASTER_OVER_NOISE = 3
const FASTER_EVIDENCE = 50
const FASTER_STRONGER = 1.08
/** Its strength goes up and down with its symbols: that of a slower one goes with its own, ten times less with these. */
const FASTER_TIMED = 0.02
/** One of them so near to a stronger conversation, and so much weaker, is made by it. */
const PRODUCTS_HZ = 300
const PRODUCTS_DB = 8
/** Reversals among the symbols: fewer are a carrier, or one of the two tones of an idling signal. */
const LEAST_REVERSALS = 0.3
const GONE_AFTER_S = 3
/** How much weaker than another one a conversation may be, beside it and anywhere. */
const RANGE_FAR_DB = 48
/** One that is no further below its neighbour is none of its edges; one further below must show it where that cannot be told otherwise. */
const CLEAR_DB = 12
const UNTOLD_DB = 24
/** Power of an edge while its signal is steady, as a share of what it is otherwise; and how many symbols are compared at least. */
const LEAST_STEADY_SHARE = 0.3
const NUMBER_KEPT_S = 60
/** A fade may take a signal away for so long. */
const PAUSE_S = 1.5
const MOST_CHANNELS = 40
/** From this on what one spills over is taken away for who is beside it; so many at most, so many spectra later, and so many tried. */
const STRONG_DB = 12
const MOST_STRONG = 4
const CLEAN_LATER = 3
const MOST_BEHIND = 4
/** Nearer to a strong one nothing is left that could be read. */
const LEAST_BEHIND_HZ = 38
/** What a receiver can tell at most. */
const BEST_SNR_DB = 60

interface Read {
  acquired: Acquired
  receiver: Psk31Receiver
}

/** One that is to be opened, and the noise of a bin about it. */
interface Found extends Read {
  noise: number
}

/** A place that was read in vain. */
interface Tried {
  frequencyHz: number
  atS: number
  evidence: number
  power: number
}

interface Open {
  channel: number
  receiver: Psk31Receiver
  sinceS: number
  lastSignalS: number
  noise: number
  /** Of who is heard now. */
  history: SignalHistory
  meter: LinearityMeter
  /** Since when nothing is heard, 0 while something is; and whether a carrier ended it. */
  awayS: number
  ended: boolean
  /** Whether it is heard in what a stronger one beside it leaves. */
  behind: boolean
  /** The last spectrum that the meter was shown or refused. */
  metered: number
}

/** Finds every conversation of a band by itself and reads them all at once, from audio at 12 kHz. */
export class Psk31Band {
  private readonly spectra = new BandSpectra()
  private kept: BandSpectrum[] = []
  /** The same without the strong ones, so much later that their bits are known. */
  private clean: BandSpectrum[] = []
  private open: Open[] = []
  private gone: { channel: number; frequencyHz: number; atS: number }[] = []
  private tried: Tried[] = []
  private lastChannel = 0
  /** How full the band is by frequency, as it was looked at last. */
  occupancy: readonly number[] = []
  private readonly unreadKeeper = new UnreadKeeper()

  /** @param letters what people write, to read by; without it what was received is read as it is */
  constructor(private readonly letters?: LetterModel) {}

  /** What is heard steadily and not read here. */
  get unread(): Unread[] {
    return this.unreadKeeper.unread
  }

  get channels(): Psk31Channel[] {
    return this.open.map((open) => {
      const { driftHzS, fading } = open.history
      const { linearity } = open.meter
      return {
        ...{ channel: open.channel, frequencyHz: open.receiver.frequencyHz, snrDb: snrOf(open), doing: open.receiver.doing },
        ...{ steadiness: open.receiver.steadiness, baud: open.receiver.baud },
        ...(driftHzS !== undefined && { driftHzS }),
        ...(fading && { fading }),
        ...(linearity && { linearity }),
      }
    })
  }

  /** @returns what was read, in the order in which it was heard */
  push(samples: Float32Array): Psk31Text[] {
    const out: Psk31Text[] = []
    for (const spectrum of this.spectra.push(samples)) {
      this.kept.push(spectrum)
      if (this.kept.length > KEPT_SPECTRA) this.kept.shift()
      // First those whose bits the others wait for.
      for (const open of this.open) if (!open.behind) out.push(...named(open, open.receiver.push(spectrum)))
      const cleaned = this.cleaned(this.kept.at(-1 - CLEAN_LATER))
      if (cleaned) this.clean.push(cleaned)
      if (this.clean.length > KEPT_SPECTRA) this.clean.shift()
      if (cleaned) for (const open of this.open) if (open.behind) out.push(...named(open, open.receiver.push(cleaned)))
      if (spectrum.n % SEARCH_EVERY === SEARCH_EVERY - 1) out.push(...this.search(startOf(spectrum)))
    }
    return out
  }

  /** What still waits, when nothing more comes. */
  flush(): Psk31Text[] {
    // Who is read behind a strong one is so much later.
    const later = this.open.some(({ behind }) => behind) ? CLEAN_LATER : 0
    return [
      ...this.push(new Float32Array(SPECTRUM_SAMPLES + later * HOP_SAMPLES)),
      ...this.open.flatMap((open) => named(open, open.receiver.flush())),
    ]
  }

  /** Those that are so strong that what they spill over hides others. */
  private get strong(): Open[] {
    return this.open
      .filter((open) => !open.behind && open.receiver.baud === BAUD && snrOf(open) > STRONG_DB)
      .sort((a, b) => b.receiver.signalEnergy - a.receiver.signalEnergy)
      .slice(0, MOST_STRONG)
  }

  /** A spectrum without the strong ones, as far as their bits are known over it. */
  private cleaned(spectrum: BandSpectrum | undefined): BandSpectrum | undefined {
    if (!spectrum) return undefined
    return this.strong.reduce(
      (left, { receiver }) => without(left, { frequencyHz: receiver.frequencyHz, baud: receiver.baud, steps: receiver.lateSteps }) ?? left,
      spectrum,
    )
  }

  /** Looks for who is hidden beside a strong one, in what is left without it. */
  private searchBehind(nowS: number): Psk31Text[] {
    const { strong } = this
    // One that was opened just now is taken out of what was heard before as well.
    if (strong.some(({ sinceS }) => sinceS === nowS))
      this.clean = this.kept.slice(0, -CLEAN_LATER).flatMap((one) => this.cleaned(one) ?? [])
    const searched = this.clean.slice(-SEARCHED_SPECTRA)
    if (strong.length === 0 || searched.length < SEARCHED_SPECTRA) return []
    const power = meanPower(searched)
    const out: Psk31Text[] = []
    const apart = (hz: number) => Math.min(...strong.map(({ receiver }) => Math.abs(receiver.frequencyHz - hz)))
    const isAway = (hz: number) => this.isOpen(hz) || apart(hz) > CLOSE_HZ || apart(hz) < LEAST_BEHIND_HZ
    for (const { frequencyHz } of searchBand(searched, isAway).slice(0, MOST_BEHIND)) {
      if (isAway(frequencyHz) || this.open.length >= MOST_CHANNELS) continue
      const noise = noiseAbout(power, frequencyHz)
      const places = [...new Set([frequencyHz, middleOf(power, frequencyHz)])].filter((hz) => !isAway(hz))
      const [tried] = places
        .map((hz) => this.readFromBefore(acquire(this.clean, hz, BAUD), noise, this.clean))
        .sort((x, y) => y.receiver.bitEnergy - x.receiver.bitEnergy)
      if (!tried) continue
      const { receiver } = tried
      if (receiver.evidence < LEAST_EVIDENCE || receiver.reversals < LEAST_REVERSALS || isTone(power, receiver)) continue
      if (isAway(receiver.frequencyHz) || this.isSkirt(receiver, this.clean) || this.isCopy(receiver)) continue
      if (this.isMirrored(receiver, power, noise)) continue
      out.push(...this.begin(receiver, { noise, nowS, behind: true }))
    }
    return out
  }

  /** Whether what is left beside a strong one is its own product: the same bits stand on its other side. Two conversations have their own. */
  private isMirrored(receiver: Psk31Receiver, power: Float64Array, noise: number): boolean {
    return this.strong.some(({ receiver: other }) => {
      const mirrorHz = mirroredHz(power, receiver.frequencyHz, { aboutHz: other.frequencyHz, noise })
      if (mirrorHz === undefined) return false
      return hasBitsOf(receiver, this.readFromBefore(acquire(this.clean, mirrorHz, BAUD), noise, this.clean).receiver)
    })
  }

  /** Whether it is so weak beside a strong one that it is read better in what is left without that. */
  private isHidden(receiver: Psk31Receiver): boolean {
    return hasStronger(this.strong, receiver, { withinHz: CLOSE_HZ, db: CLEAR_DB })
  }

  private isCopy(receiver: Psk31Receiver): boolean {
    return this.open.some(({ receiver: other }) => isHumCopy(receiver, other))
  }

  /** Whether it is one of the two tones of a stronger one, read from its other side: a symbol rate away from its middle. */
  private isHalf(receiver: Psk31Receiver, power: Float64Array): boolean {
    const isBeside = this.open.some(
      ({ receiver: other }) =>
        other.bitEnergy > receiver.bitEnergy && Math.abs(Math.abs(other.frequencyHz - receiver.frequencyHz) - other.baud) < SAME_PLACE_HZ,
    )
    return isBeside && isOneSided(power, receiver)
  }

  private begin(receiver: Psk31Receiver, { noise, nowS, behind }: { noise: number; nowS: number; behind: boolean }): Psk31Text[] {
    const open: Open = {
      ...{ channel: this.numberFor(receiver.frequencyHz), receiver, sinceS: nowS, lastSignalS: nowS, noise, behind },
      ...{ history: new SignalHistory(), meter: new LinearityMeter(), metered: -1, awayS: 0, ended: false },
    }
    // What was taken for a conversation before the one was found that it is only a copy of.
    this.open = [...this.open.filter((other) => !isHumCopy(other.receiver, receiver)), open]
    return named(open, receiver.readBy(this.letters))
  }

  private search(nowS: number): Psk31Text[] {
    const searched = this.kept.slice(-SEARCHED_SPECTRA)
    if (searched.length < SEARCHED_SPECTRA) return []
    this.letGo(nowS)
    const power = meanPower(searched)
    // A receiver that is muted, because its own station sends, says nothing of the noise, nor of who is there.
    const heard = !searched.some(isMuted)
    if (heard) this.occupancy = occupancyOf(power)
    for (const open of heard ? this.open : []) {
      const noise = noiseAbout(power, open.receiver.frequencyHz)
      if (!(noise > 0)) continue
      open.noise = noise
      open.receiver.hearNoise(densityOf(noise))
      this.observe(open, nowS)
    }
    if (heard) this.unreadKeeper.look(power, (hz, peak) => this.isOpen(hz, SPILLS_HZ) || this.isSpilled(power, hz, peak))
    const looked = this.candidates(searched, power, nowS).map(({ frequencyHz, places }) => {
      // Each is read from before it was found: what was missed would be the call. From beside its middle it reads as a weaker one.
      const read = places
        .map((hz) => this.readFromBefore(acquire(this.kept, hz, BAUD), noiseAbout(power, hz)))
        .sort((x, y) => y.receiver.bitEnergy - x.receiver.bitEnergy)
      return {
        frequencyHz,
        one:
          read.find(
            ({ receiver }) => receiver.evidence > RULED_OUT || !hasStronger(this.open, receiver, { withinHz: BESIDE_HZ, db: CLEAR_DB }),
          ) ?? read[0]!,
      }
    })
    const slow = looked.filter(({ one: { receiver } }) => receiver.evidence >= SURELY_SLOW && receiver.reversals >= LEAST_REVERSALS)
    const beside = [...slow.map(({ one }) => one.receiver), ...this.open.map(({ receiver }) => receiver)].map((one) => one.frequencyHz)
    let fasterLeft = MOST_FASTER_TRIED
    const found = looked.flatMap(({ frequencyHz, one }): Found[] => {
      const { receiver } = one
      if (fasterLeft > 0) {
        const faster = this.fasterRead({ slow: receiver, frequencyHz, beside }, power)
        if (faster === 'tried') fasterLeft--
        else if (faster) return [faster]
      }
      if (receiver.evidence >= LEAST_EVIDENCE && receiver.reversals >= LEAST_REVERSALS && !isTone(power, receiver))
        return [{ ...one, noise: noiseAbout(power, receiver.frequencyHz) }]
      this.tried.push({ frequencyHz, atS: nowS, evidence: receiver.evidence, power: powerAcross(power, frequencyHz, BAUD) })
      return []
    })
    // The edges of a strong one read as a weaker one: of those that are near to each other the strongest is it.
    found.sort((a, b) => b.receiver.bitEnergy - a.receiver.bitEnergy)
    const out: Psk31Text[] = []
    for (const { receiver: tried, noise } of found) {
      if (
        this.open.length >= MOST_CHANNELS ||
        this.isOpen(tried.frequencyHz) ||
        this.isSkirt(tried) ||
        this.isHalf(tried, power) ||
        this.isHidden(tried) ||
        this.isCopy(tried)
      )
        continue
      out.push(...this.begin(tried, { noise, nowS, behind: false }))
    }
    return [...out, ...this.searchBehind(nowS)]
  }

  /** What is told of a signal beside its text. */
  private observe(open: Open, nowS: number): void {
    const { receiver } = open
    const isThere = receiver.doing !== 'gone'
    // After its end carrier, or a pause, somebody else may be there, who is not to be told of with the same figures.
    if (isThere && open.awayS > 0 && (open.ended || nowS - open.awayS > PAUSE_S)) {
      open.history = new SignalHistory()
      open.meter = new LinearityMeter()
    }
    if (!isThere) open.awayS ||= nowS
    else {
      open.awayS = 0
      open.ended = receiver.doing === 'carrier'
    }
    const { history, meter } = open
    if (isThere) history.push({ atS: nowS, db: 10 * Math.log10(receiver.bitEnergy), hz: receiver.frequencyHz })
    // Where the products stand is told for the usual speed alone.
    if (receiver.baud !== BAUD) return
    const steps = receiver.lateSteps
    const readS = steps.at(-1)?.atS ?? -Infinity
    for (const spectrum of open.behind ? this.clean : this.kept) {
      if (spectrum.n <= open.metered) continue
      // The whole window of the spectrum, and a symbol to either side of it.
      const fromS = startOf(spectrum) - SPECTRUM_SAMPLES / 4 / SAMPLE_RATE_HZ - SYMBOL_S
      const toS = fromS + SPECTRUM_SAMPLES / SAMPLE_RATE_HZ + 2 * SYMBOL_S
      if (toS > readS) break
      open.metered = spectrum.n
      const within = steps.filter(({ atS }) => atS >= fromS && atS <= toS)
      if (within.length >= Math.floor((toS - fromS) / SYMBOL_S) && within.every(({ bit }) => bit === 0))
        meter.push(spectrum, receiver.frequencyHz, open.noise)
    }
  }

  /** Where to look for a conversation: what was looked at lately in vain comes last, for a search may take only so long. */
  private candidates(searched: readonly BandSpectrum[], power: Float64Array, nowS: number): { frequencyHz: number; places: number[] }[] {
    this.tried = this.tried.filter(({ atS }) => nowS - atS < TRIED_KEPT_S)
    if (this.open.length >= MOST_CHANNELS) return []
    const isAsBefore = (hz: number) => {
      const last = this.tried.findLast((one) => Math.abs(one.frequencyHz - hz) < SAME_PLACE_HZ)
      if (!last || last.evidence > NOTHING) return false
      const ratio = powerAcross(power, hz, BAUD) / last.power
      return ratio < AS_BEFORE && ratio > 1 / AS_BEFORE
    }
    const out: { frequencyHz: number; places: number[] }[] = []
    for (const { frequencyHz } of searchBand(searched, (hz) => this.isOpen(hz, KNOWN_HZ))) {
      const middleHz = middleOf(power, frequencyHz)
      const places = [...new Set([frequencyHz, middleHz])].filter((hz) => !this.isOpen(hz) && !isFarBelow(power, hz))
      if (this.isOpen(frequencyHz) || places.length === 0 || isAsBefore(frequencyHz)) continue
      if (out.some((other) => other.places.some((hz) => Math.abs(hz - middleHz) < SAME_PLACE_HZ))) continue
      out.push({ frequencyHz, places })
    }
    const inVain = ({ frequencyHz }: { frequencyHz: number }) =>
      Number(this.tried.some((one) => Math.abs(one.frequencyHz - frequencyHz) < SAME_PLACE_HZ))
    return out.sort((a, b) => inVain(a) - inVain(b)).slice(0, MOST_TRIED)
  }

  /** The same place read as one of the faster members of the family, where that explains more of what is there. */
  private fasterRead(
    { slow, frequencyHz, beside }: { slow: Psk31Receiver; frequencyHz: number; beside: readonly number[] },
    power: Float64Array,
  ): Found | 'tried' | undefined {
    if (slow.evidence >= SURELY_SLOW) return undefined
    let tried = false
    let most = slow.bitEnergy * slow.baud * FASTER_STRONGER
    let best: Found | undefined
    for (const baud of FASTER_BAUDS) {
      const middleHz = middleOf(power, frequencyHz, baud)
      const noise = noiseAbout(power, middleHz)
      if (powerAcross(power, middleHz, baud) < FASTER_OVER_NOISE * noise || this.isOpen(middleHz)) continue
      // What is within its width would be read with it.
      if (beside.some((hz) => Math.abs(hz - middleHz) < baud + BAUD)) continue
      tried = true
      const read = this.readFromBefore(acquire(this.kept, middleHz, baud), noise)
      const { evidence, reversals, bitEnergy } = read.receiver
      if (evidence < FASTER_EVIDENCE || reversals < LEAST_REVERSALS || bitEnergy * baud < most) continue
      const { cos, sin } = read.acquired.timing
      if (Math.hypot(cos, sin) < FASTER_TIMED * bitEnergy * baud) continue
      // What a stronger one makes beside itself, when it or our receiver is overdriven.
      if (hasStronger(this.open, read.receiver, { withinHz: PRODUCTS_HZ, db: PRODUCTS_DB }) || !isPlain(power, read.receiver)) continue
      most = bitEnergy * baud * FASTER_STRONGER
      best = { ...read, noise }
    }
    return best ?? (tried ? 'tried' : undefined)
  }

  private readFromBefore(acquired: Acquired, noise: number, from = this.kept): Read {
    const receiver = new Psk31Receiver(acquired, startOf(from[0]!), densityOf(noise))
    for (const spectrum of from) receiver.push(spectrum)
    return { acquired, receiver }
  }

  /** Whether what is so strong there is less than hum and the like of a conversation not far away. */
  private isSpilled(power: Float64Array, frequencyHz: number, peak: number): boolean {
    return this.open.some(
      ({ receiver }) =>
        Math.abs(receiver.frequencyHz - frequencyHz) < SPILLS_WEAKLY_HZ &&
        peak * 10 ** (SPILLS_BELOW_DB / 10) < powerAcross(power, receiver.frequencyHz, receiver.baud),
    )
  }

  private isOpen(frequencyHz: number, withinHz = SAME_HZ): boolean {
    return this.open.some(({ receiver }) => Math.abs(receiver.frequencyHz - frequencyHz) < (withinHz * receiver.baud) / BAUD)
  }

  /**
   * Whether this is no more than what a stronger one spills over: its products and our own filters far off, its edges close by. Edges are
   * there only while the stronger one reverses; a conversation of its own does not ask what its neighbour does.
   */
  private isSkirt(receiver: Psk31Receiver, spectra: readonly BandSpectrum[] = this.kept): boolean {
    const energy = receiver.signalEnergy
    return this.open.some(({ receiver: other }) => {
      // A faster one spills over further.
      const apartHz = (Math.abs(other.frequencyHz - receiver.frequencyHz) * BAUD) / other.baud
      const below = energy / other.bitEnergy
      if (below < 10 ** (-RANGE_FAR_DB / 10)) return true
      if (apartHz > CLOSE_HZ || below > 10 ** (-CLEAR_DB / 10)) return false
      const share = whileSteady(spectra, receiver.frequencyHz, other)
      // In what is left without a strong one, its own products are told from others only once it has both reversed and kept its phase.
      if (share === undefined) return spectra !== this.kept || below < 10 ** (-UNTOLD_DB / 10)
      return share < LEAST_STEADY_SHARE
    })
  }

  private letGo(nowS: number): void {
    this.open = this.open.filter((open) => {
      const { receiver, channel } = open
      if (receiver.doing !== 'gone') open.lastSignalS = nowS
      const near = this.open.some(
        (other) => other.channel < channel && Math.abs(other.receiver.frequencyHz - receiver.frequencyHz) < SAME_HZ / 2,
      )
      if (!near && !this.isCopy(receiver) && nowS - open.lastSignalS < GONE_AFTER_S) return true
      this.gone.push({ channel, frequencyHz: receiver.frequencyHz, atS: nowS })
      return false
    })
    this.gone = this.gone.filter(({ atS }) => nowS - atS < NUMBER_KEPT_S)
  }

  /** The number of what was heard here before, else a new one. */
  private numberFor(frequencyHz: number): number {
    const at = this.gone.findIndex((gone) => Math.abs(gone.frequencyHz - frequencyHz) < AGAIN_HZ)
    if (at < 0) return ++this.lastChannel
    return this.gone.splice(at, 1)[0]!.channel
  }
}

/** Whether one of them is near to a signal and stronger by so much. */
const hasStronger = (
  among: readonly Open[],
  { frequencyHz, bitEnergy, baud }: Psk31Receiver,
  { withinHz, db }: { withinHz: number; db: number },
): boolean =>
  among.some(
    ({ receiver: other }) =>
      Math.abs(other.frequencyHz - frequencyHz) < withinHz && other.bitEnergy * other.baud > bitEnergy * baud * 10 ** (db / 10),
  )

function named(open: Open, heard: readonly HeardCharacter[]): Psk31Text[] {
  return heard.map((character) => ({
    ...character,
    ...{ channel: open.channel, frequencyHz: open.receiver.frequencyHz, snrDb: snrOf(open) },
  }))
}

/** One-sided density of the noise of a bin. */
const densityOf = (noise: number) => (2 * noise) / SPECTRUM_SAMPLES / SAMPLE_RATE_HZ

/** Signal over noise in 2500 Hz, in dB: the energy of the conversation's bits over the noise density beside it. */
function snrOf({ receiver, noise }: Open): number {
  // A bin of the spectrum holds the noise of its whole length; the filter lets through what it is wide.
  const noiseDensity = densityOf(noise)
  // In a recording without any noise there is nothing to compare with.
  if (!(noiseDensity > 0)) return BEST_SNR_DB
  const energy = receiver.signalEnergy
  return Math.min(BEST_SNR_DB, 10 * Math.log10(Math.max(energy / noiseDensity, 1e-3)) + 10 * Math.log10(receiver.baud / 2500))
}

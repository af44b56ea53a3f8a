import { BandSpectra, SPECTRUM_SAMPLES, type BandSpectrum } from './bandSpectra'
import { startOf } from './baseband'
import { Psk31Receiver, type HeardCharacter, type Psk31Doing } from './receiver'
import { meanPower, noiseAbout, searchBand, SEARCHED_SPECTRA } from './search'
import { BAUD, SAMPLE_RATE_HZ } from './signal'

/** A conversation that is heard. */
export interface Psk31Channel {
  /** Counted from 1; a frequency that is used again soon after keeps its number. */
  channel: number
  frequencyHz: number
  snrDb: number
  doing: Psk31Doing
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
/** A frequency that is used again, by the other of two perhaps. */
const AGAIN_HZ = 12
/** Over the last 41 symbols; noise gets there once in some hundred hours of one channel. */
const LEAST_QUALITY = 0.6
/** Reversals among the symbols: fewer are a carrier, or one of the two tones of an idling signal. */
const LEAST_REVERSALS = 0.3
const GONE_AFTER_S = 3
/** How much weaker than another one a conversation may be, beside it and anywhere. */
const CLOSE_HZ = 110
const RANGE_DB = { close: 32, far: 48 }
const NUMBER_KEPT_S = 60
const MOST_CHANNELS = 40
/** What a receiver can tell at most. */
const BEST_SNR_DB = 60

interface Open {
  channel: number
  receiver: Psk31Receiver
  lastSignalS: number
  noise: number
}

/** Finds every conversation of a band by itself and reads them all at once, from audio at 12 kHz. */
export class Psk31Band {
  private readonly spectra = new BandSpectra()
  private kept: BandSpectrum[] = []
  private open: Open[] = []
  private gone: { channel: number; frequencyHz: number; atS: number }[] = []
  private lastChannel = 0

  get channels(): Psk31Channel[] {
    return this.open.map((open) => ({
      channel: open.channel,
      frequencyHz: open.receiver.frequencyHz,
      snrDb: snrOf(open),
      doing: open.receiver.doing,
    }))
  }

  /** @returns what was read, in the order in which it was heard */
  push(samples: Float32Array): Psk31Text[] {
    const out: Psk31Text[] = []
    for (const spectrum of this.spectra.push(samples)) {
      for (const open of this.open) out.push(...named(open, open.receiver.push(spectrum)))
      this.kept.push(spectrum)
      if (this.kept.length > KEPT_SPECTRA) this.kept.shift()
      if (spectrum.n % SEARCH_EVERY === SEARCH_EVERY - 1) out.push(...this.search(startOf(spectrum)))
    }
    return out
  }

  /** What still waits, when nothing more comes. */
  flush(): Psk31Text[] {
    return [...this.push(new Float32Array(SPECTRUM_SAMPLES)), ...this.open.flatMap((open) => named(open, open.receiver.flush()))]
  }

  private search(nowS: number): Psk31Text[] {
    const searched = this.kept.slice(-SEARCHED_SPECTRA)
    if (searched.length < SEARCHED_SPECTRA) return []
    this.letGo(nowS)
    const power = meanPower(searched)
    for (const open of this.open) {
      const noise = noiseAbout(power, open.receiver.frequencyHz)
      // A receiver that is muted, because its own station sends, says nothing of the noise.
      if (noise > 0) open.noise = noise
    }
    // Each is read from before it was found: what was missed would be the call.
    const found = searchBand(searched).flatMap(({ frequencyHz }) => {
      if (this.isOpen(frequencyHz)) return []
      const receiver = new Psk31Receiver(frequencyHz)
      const heard = this.kept.flatMap((spectrum) => receiver.push(spectrum))
      const isOne = receiver.quality >= LEAST_QUALITY && receiver.reversals >= LEAST_REVERSALS
      return isOne ? [{ receiver, heard, noise: noiseAbout(power, receiver.frequencyHz) }] : []
    })
    // The edges of a strong one read as a weaker one: of those that are near to each other the strongest is it.
    found.sort((a, b) => b.receiver.bitEnergy(0) - a.receiver.bitEnergy(0))
    const out: Psk31Text[] = []
    for (const { receiver, heard, noise } of found) {
      if (this.open.length >= MOST_CHANNELS || this.isOpen(receiver.frequencyHz) || this.isSkirt(receiver)) continue
      const open: Open = { channel: this.numberFor(receiver.frequencyHz), receiver, lastSignalS: nowS, noise }
      this.open.push(open)
      out.push(...named(open, heard))
    }
    return out
  }

  private isOpen(frequencyHz: number): boolean {
    return this.open.some(({ receiver }) => Math.abs(receiver.frequencyHz - frequencyHz) < SAME_HZ)
  }

  /** Whether this is no more than what a stronger one spills over: its edges close by, its products and our own filters further off. */
  private isSkirt(receiver: Psk31Receiver): boolean {
    const energy = receiver.bitEnergy(0)
    return this.open.some(({ receiver: other }) => {
      const apartHz = Math.abs(other.frequencyHz - receiver.frequencyHz)
      const rangeDb = apartHz < CLOSE_HZ ? RANGE_DB.close : RANGE_DB.far
      return energy < other.bitEnergy(0) * 10 ** (-rangeDb / 10)
    })
  }

  private letGo(nowS: number): void {
    this.open = this.open.filter((open) => {
      const { receiver, channel } = open
      if (receiver.doing !== 'gone') open.lastSignalS = nowS
      const near = this.open.some(
        (other) => other.channel < channel && Math.abs(other.receiver.frequencyHz - receiver.frequencyHz) < SAME_HZ / 2,
      )
      if (!near && nowS - open.lastSignalS < GONE_AFTER_S) return true
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

function named(open: Open, heard: readonly HeardCharacter[]): Psk31Text[] {
  return heard.map((character) => ({
    ...character,
    ...{ channel: open.channel, frequencyHz: open.receiver.frequencyHz, snrDb: snrOf(open) },
  }))
}

/** Signal over noise in 2500 Hz, in dB: the energy of the conversation's bits over the noise density beside it. */
function snrOf({ receiver, noise }: Open): number {
  // A bin of the spectrum holds the noise of its whole length; the filter lets through what it is wide.
  const noiseDensity = (2 * noise) / SPECTRUM_SAMPLES / SAMPLE_RATE_HZ
  // In a recording without any noise there is nothing to compare with.
  if (!(noiseDensity > 0)) return BEST_SNR_DB
  const energy = receiver.bitEnergy(noiseDensity)
  return Math.min(BEST_SNR_DB, 10 * Math.log10(Math.max(energy / noiseDensity, 1e-3)) + 10 * Math.log10(BAUD / 2500))
}

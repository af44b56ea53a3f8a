import { BIN_HZ, type BandSpectrum } from './bandSpectra'
import { meanPower } from './search'
import { BAUD } from './signal'

/** How clean a transmitter is, told from what it sends while it idles. */
export interface Linearity {
  /** Third-order products against the two tones, in dB; the best that can be excluded when `atMost` is set. */
  productsDb: number
  /** Whether the products are lost in the noise: they are no stronger than that. */
  atMost: boolean
  /** How far off it may be, in dB. */
  withinDb: number
  /** Lines beside the tones as mains hum makes them, in dB against the tones and in Hz apart; only when they are there. */
  hum?: { db: number; hz: number }
}

/** Products that are stronger than this come of an overdriven transmitter; weaker than that they are clean. */
const OVERDRIVEN_DB = -20
export const CLEAN_DB = -25

export const isOverdriven = ({ atMost, productsDb }: Linearity): boolean => !atMost && productsDb > OVERDRIVEN_DB

/** Idling is two tones, half a symbol rate to either side; products of the third order are three times as far out. */
const TONE_HZ = BAUD / 2
const PRODUCT_HZ = 3 * TONE_HZ
/** How far hum puts its lines from the tones: the mains' frequencies and twice them. */
const HUM_HZ = [50, 60, 100, 120] as const
/** Bins to either side of a line that hold it, through a Hann window. */
const LINE_BINS = 2
const BINS = 2 * LINE_BINS + 1
/** Noise of that many bins scatters as of so many that have nothing to do with each other, and windows overlap by half. */
const INDEPENDENT_BINS = 3
const INDEPENDENT_WINDOWS = 0.7
/** What is so much above its scatter is there. */
const SURE_SIGMAS = 2.5
/** One side so much stronger than the other is not its own: somebody else is there. */
const UNEVEN_DB = 5
/** Hum weaker than this troubles nobody. */
const LEAST_HUM_DB = -40
/** Weights of what was measured before: a transmitter may be turned down in the middle of a contact. */
const MOST_WINDOWS = 60

interface Sides {
  low: number
  high: number
}

/** Gathers what a transmitter shows while it idles. */
export class LinearityMeter {
  private windows = 0
  private tones = 0
  private noise = 0
  private readonly products: Sides = { low: 0, high: 0 }
  private readonly hum = HUM_HZ.map((): Sides => ({ low: 0, high: 0 }))

  /**
   * @param spectrum of a stretch in which it did nothing but idle
   * @param noise mean noise of a bin, as `meanPower` gives it
   */
  push(spectrum: BandSpectrum, frequencyHz: number, noise: number): void {
    const power = meanPower([spectrum])
    const keep = this.windows < MOST_WINDOWS ? 1 : 1 - 1 / MOST_WINDOWS
    this.windows = this.windows * keep + 1
    this.tones = this.tones * keep + at(power, frequencyHz - TONE_HZ) + at(power, frequencyHz + TONE_HZ) - 2 * BINS * noise
    this.noise = this.noise * keep + BINS * noise
    const add = (sides: Sides, apartHz: number) => {
      sides.low = sides.low * keep + at(power, frequencyHz - apartHz) - BINS * noise
      sides.high = sides.high * keep + at(power, frequencyHz + apartHz) - BINS * noise
    }
    add(this.products, PRODUCT_HZ)
    HUM_HZ.forEach((hz, k) => add(this.hum[k]!, hz + TONE_HZ))
  }

  /** @returns nothing while it has not idled, or too weakly to tell anything */
  get linearity(): Linearity | undefined {
    if (this.windows < 1 || this.tones <= 0) return undefined
    // Of the noise under one side's line.
    const scatter = this.noise / Math.sqrt(INDEPENDENT_BINS * Math.max(1, this.windows * INDEPENDENT_WINDOWS))
    const [product, sigma] = evenSum(this.products, scatter)
    const isThere = product > SURE_SIGMAS * sigma
    const shown = isThere ? product : Math.max(0, product) + SURE_SIGMAS * sigma
    const productsDb = toDb(shown / this.tones)
    // A limit of no more than this tells nothing.
    if (!isThere && productsDb > -15) return undefined
    const hum = this.humOf(scatter)
    return {
      ...{ productsDb, atMost: !isThere, withinDb: isThere ? Math.min(9, toDb(1 + sigma / product)) : 0 },
      ...(hum && { hum }),
    }
  }

  private humOf(scatter: number): Linearity['hum'] {
    const lines = this.hum.map((sides, k) => ({ hz: HUM_HZ[k]!, power: 2 * Math.min(sides.low, sides.high) }))
    const strongest = lines.reduce((a, b) => (b.power > a.power ? b : a))
    const db = toDb(Math.max(strongest.power, 1e-30) / this.tones)
    return strongest.power > 2 * SURE_SIGMAS * scatter && db > LEAST_HUM_DB ? { db, hz: strongest.hz } : undefined
  }
}

/** Power of a line. */
function at(power: Float64Array, hz: number): number {
  const middle = Math.round(hz / BIN_HZ)
  let sum = 0
  for (let k = middle - LINE_BINS; k <= middle + LINE_BINS; k++) sum += power[k] ?? 0
  return sum
}

/** Both sides together, or twice the weaker one where somebody else is in the other; with its scatter. */
function evenSum({ low, high }: Sides, scatter: number): [sum: number, sigma: number] {
  const [less, more] = [Math.min(low, high), Math.max(low, high)]
  const uneven = more > Math.max(less, scatter) * 10 ** (UNEVEN_DB / 10)
  return uneven ? [2 * less, 2 * scatter] : [low + high, Math.SQRT2 * scatter]
}

const toDb = (ratio: number) => 10 * Math.log10(ratio)

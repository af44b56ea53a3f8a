import { powerToDb, quantile, quantileInPlace } from './quantile'
import { BIN_HZ, FRAME_S } from './spectrumHistory'

/** Rows of a step, a quarter of a second: noise is read from their mean. */
const SMOOTH_ROWS = 3
/** The noise of a row is read at this share of its bins: in a full band the free ones are still more than this. */
const NOISE_SHARE = 0.15
/** Width over which a strong signal is looked for. */
const SIGNAL_HZ = 50
/** Strong signals must come and go by this much, against the noise and by themselves, before anything can be said of what they do. */
const STANDS_MORE_DB = 8
const SWING_DB = 4
/** A station that is keyed leaves its place by this much, though the gain comes up meanwhile; places are looked at in such steps. */
const KEYED_DB = 6
const PLACE_STEP = 2
/** Less than this over the noise of a few bins does not move a gain. */
const STRONG_DB = 25
/** Steps in each of the two groups, strong signal there and not: a second. */
const FEWEST_STEPS = 4
/** A noise that ducks this much moves enough to look gated now and then. */
export const DUCKS_DB = 3.5
const GATED_ALL_THE_SAME = 0.15
/** An automatic gain holds the noise down as long as a signal lasts; a gate shuts for a second or so. In steps: 2.5 s. */
const HELD_STEPS = 10
/** Unevenness is judged in blocks of this many rows, about five seconds. */
const BLOCK_ROWS = 57
/** The most even tenth of bins and blocks counts; how full the band is shows where a third of them lies. */
const EVEN_SHARE = 0.1
const FULL_SHARE = 0.35
/**
 * How uneven the most even tenth of plain noise is, in dB between mean and geometric mean, by that of the first third: in a
 * full band few bins are free of signals for five seconds. Measured on simulated bands of 2, 15 and 50 signals a slot.
 */
const PLAIN_UNEVENNESS = [
  [2.42, 1.95],
  [2.55, 2.03],
  [2.65, 2.075],
  [2.72, 2.1],
  [3.7, 2.38],
  [4.2, 2.46],
  [4.7, 2.58],
] as const
/** Plain noise scatters by this much around that, in an empty band and in a full one. */
const UNEVEN_EMPTY_DB = 0.07
const UNEVEN_FULL_DB = 0.14
const FULL_FROM_DB = 2.65
const FULL_TO_DB = 3.1
/** Bins and blocks of the usual passband in twenty seconds; fewer scatter more. */
const USUAL_CELLS = 4 * 400
/** Noise that falls to this far below its usual level, without a strong signal, was gated. */
export const GATED_DB = 6

/** What the level of the noise does over the last seconds. */
export interface Dynamics {
  /** By how much the noise goes down while a strong signal is there; 0 when it does not. */
  duckDb: number
  /** How much stronger the strong signal is than what is there otherwise. */
  swingDb: number
  /** By how much the noise falls in pauses that no strong signal explains; 0 when it does not. */
  gateDb: number
  /** Share of the time spent in such pauses. */
  gatedShare: number
  /** How much more uneven over time the noise is than plain noise, in dB; below 0 by chance. */
  unevenDb: number
  /** What `unevenDb` reaches by chance. */
  unevenByChanceDb: number
  /** Whether so many signals are on that they hide much of what is looked for. */
  crowded: boolean
}

/**
 * Judges how the noise moves with signals and by itself.
 * @param rows of a spectrum history
 * @param passbandHz where to look; about 50 Hz are left out at either end
 */
export function measureDynamics(rows: readonly Float32Array[], passbandHz: [number, number]): Dynamics {
  const none: Dynamics = { duckDb: 0, swingDb: 0, gateDb: 0, gatedShare: 0, unevenDb: 0, unevenByChanceDb: UNEVEN_EMPTY_DB, crowded: false }
  const from = Math.ceil((passbandHz[0] + 50) / BIN_HZ)
  const to = Math.floor((Math.min(passbandHz[1], 5500) - 50) / BIN_HZ)
  if (rows.length < 4 * SMOOTH_ROWS || to - from < 24) return none
  const levels = trackLevels(rows, from, to)
  const { noise, signal } = levels
  const duck = measureDuck(levels)
  const gate = measureGate(noise, signal)
  if (duck.duckDb >= DUCKS_DB && gate.gatedShare < GATED_ALL_THE_SAME) gate.gateDb = 0
  return { ...none, ...duck, ...gate, ...measureUnevenness(rows, noise, from, to) }
}

interface Levels {
  noise: Float32Array
  /** The strongest of `bands`, in dB. */
  signal: Float32Array
  /** Power of each step in each stretch of `SIGNAL_HZ`, by where the stretch ends. */
  bands: readonly Float32Array[]
}

function trackLevels(rows: readonly Float32Array[], from: number, to: number): Levels {
  const length = Math.floor(rows.length / SMOOTH_ROWS)
  const noise = new Float32Array(length)
  const signal = new Float32Array(length)
  const mean = new Float32Array(to - from)
  const bands: Float32Array[] = []
  const width = Math.round(SIGNAL_HZ / BIN_HZ)
  for (let t = 0; t < length; t++) {
    mean.fill(0)
    for (let k = 0; k < SMOOTH_ROWS; k++)
      for (let i = 0; i < mean.length; i++) mean[i]! += rows[t * SMOOTH_ROWS + k]![from + i]! / SMOOTH_ROWS
    let sum = 0
    let most = 0
    const band = new Float32Array(mean.length)
    for (let i = 0; i < mean.length; i++) {
      sum += mean[i]! - (i >= width ? mean[i - width]! : 0)
      band[i] = sum
      if (sum > most) most = sum
    }
    signal[t] = powerToDb(most + 1e-18)
    bands.push(band)
    noise[t] = powerToDb(quantileInPlace(mean, NOISE_SHARE) + 1e-18)
  }
  return { noise, signal, bands }
}

/**
 * Compares the noise under the strongest signals with that without them. Steps are told apart by how far the strongest
 * signal stands over the noise, because an automatic gain levels the signal itself; where the strongest never changes, by
 * the station that comes and goes most.
 */
function measureDuck({ noise, signal, bands }: Levels): { duckDb: number; swingDb: number } {
  const strongest = splitSteps(signal.map((db, t) => db - noise[t]!))
  const swingDb = strongest ? middleOf(signal, strongest.under) - middleOf(signal, strongest.without) : 0
  // Noise that comes and goes under a steady carrier moves the carrier not at all. A gain that makes all signals equally
  // strong looks the same, but holds for as long as they last.
  const telling = strongest && (swingDb >= SWING_DB || meanRun(strongest.under) >= HELD_STEPS) ? strongest : mostKeyed(noise, bands)
  if (!telling) return { duckDb: 0, swingDb }
  return { duckDb: Math.max(0, middleOf(noise, telling.without) - middleOf(noise, telling.under)), swingDb }
}

/** Steps in which a signal is there, and in which it is not. */
interface Split {
  under: number[]
  without: number[]
}

function splitSteps(stands: Float32Array): Split | undefined {
  const most = quantile(stands, 0.9)
  const least = quantile(stands, 0.1)
  if (most - least < STANDS_MORE_DB) return undefined
  const third = (most - least) / 3
  const under: number[] = []
  const without: number[] = []
  stands.forEach((db, t) => {
    if (db > most - third) under.push(t)
    else if (db < least + third) without.push(t)
  })
  return under.length < FEWEST_STEPS || without.length < FEWEST_STEPS ? undefined : { under, without }
}

const middleOf = (values: Float32Array, steps: readonly number[]) =>
  quantile(
    steps.map((t) => values[t]!),
    0.5,
  )

/** Splits the steps by the one station that comes and goes most and is strong enough to move a gain; none when there is none. */
function mostKeyed(noise: Float32Array, bands: Levels['bands']): Split | undefined {
  const usual = 10 ** (quantile(noise, 0.5) / 10)
  let best: { stands: Float32Array; byDb: number } | undefined
  for (let place = 0; place < bands[0]!.length; place += PLACE_STEP) {
    let most = 0
    let least = Infinity
    for (const band of bands) {
      most = Math.max(most, band[place]!)
      least = Math.min(least, band[place]!)
    }
    // Most places hold nothing that could move a gain: they are not looked at any closer.
    if (most < usual * 10 ** (STRONG_DB / 20) || most < least * 10 ** (KEYED_DB / 10)) continue
    const level = Float32Array.from(bands, (band) => powerToDb(band[place]! + 1e-18))
    const stands = level.map((db, t) => db - noise[t]!)
    const standsDb = quantile(stands, 0.9)
    const byDb = quantile(level, 0.9) - quantile(level, 0.1)
    if (standsDb >= STRONG_DB && byDb >= KEYED_DB && (!best || standsDb > best.byDb)) best = { stands, byDb: standsDb }
  }
  return best && splitSteps(best.stands)
}

/** Looks for pauses in which the noise falls away though no strong signal holds the gain down. */
function measureGate(noise: Float32Array, signal: Float32Array): { gateDb: number; gatedShare: number } {
  const usual = quantile(noise, 0.75)
  const usualSignal = quantile(signal, 0.75)
  const low: number[] = []
  for (let t = 0; t < noise.length; t++) if (noise[t]! < usual - GATED_DB && signal[t]! < usualSignal - GATED_DB / 2) low.push(noise[t]!)
  if (low.length * SMOOTH_ROWS * FRAME_S < 0.4) return { gateDb: 0, gatedShare: 0 }
  return { gateDb: usual - quantile(low, 0.5), gatedShare: low.length / noise.length }
}

/** Mean length of the runs in a rising list of numbers. */
function meanRun(steps: readonly number[]): number {
  const runs = steps.filter((t, i) => i === 0 || t !== steps[i - 1]! + 1).length
  return steps.length / Math.max(1, runs)
}

/**
 * How unevenly the noise is spread over time: cut into islands, it is more uneven than noise is. Each bin is judged by itself
 * and the most even ones count, for signals come and go in the others. A gain that moves shifts whole rows and is taken out.
 */
function measureUnevenness(
  rows: readonly Float32Array[],
  noise: Float32Array,
  from: number,
  to: number,
): Pick<Dynamics, 'unevenDb' | 'unevenByChanceDb' | 'crowded'> {
  const plain = { unevenDb: 0, unevenByChanceDb: UNEVEN_EMPTY_DB, crowded: false }
  const blocks = Math.floor((noise.length * SMOOTH_ROWS) / BLOCK_ROWS)
  if (blocks === 0) return plain
  const gains = noise.map((db) => 10 ** (-db / 10))
  const found = new Float64Array(to - from)
  const products = new Float64Array(to - from)
  let unevenDb = 0
  let fullDb = 0
  for (let block = 0; block < blocks; block++) {
    found.fill(0)
    products.fill(0)
    for (let k = 0; k < BLOCK_ROWS; k++) {
      const t = block * BLOCK_ROWS + k
      const row = rows[t]!
      const gain = gains[Math.floor(t / SMOOTH_ROWS)]!
      for (let i = 0; i < found.length; i++) {
        const power = row[from + i]! * gain + 1e-12
        found[i]! += power
        products[i]! += Math.log(power)
      }
    }
    for (let i = 0; i < found.length; i++) found[i] = (10 / Math.LN10) * (Math.log(found[i]! / BLOCK_ROWS) - products[i]! / BLOCK_ROWS)
    found.sort()
    const full = found[Math.floor(FULL_SHARE * found.length)]!
    unevenDb += (found[Math.floor(EVEN_SHARE * found.length)]! - plainUnevenness(full)) / blocks
    fullDb += full / blocks
  }
  const share = Math.min(1, Math.max(0, (fullDb - FULL_FROM_DB) / (FULL_TO_DB - FULL_FROM_DB)))
  const scatter = Math.sqrt(Math.max(1, USUAL_CELLS / (blocks * (to - from))))
  return { unevenDb, unevenByChanceDb: scatter * (UNEVEN_EMPTY_DB + share * (UNEVEN_FULL_DB - UNEVEN_EMPTY_DB)), crowded: share > 0.5 }
}

function plainUnevenness(full: number): number {
  const points = PLAIN_UNEVENNESS
  const next = points.findIndex(([at]) => at >= full)
  if (next === 0) return points[0][1]
  if (next < 0) return points.at(-1)![1]
  const [x0, y0] = points[next - 1]!
  const [x1, y1] = points[next]!
  return y0 + ((y1 - y0) * (full - x0)) / (x1 - x0)
}

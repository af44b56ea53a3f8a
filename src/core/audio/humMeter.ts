import { createRealFft } from '../dsp/fft'
import { hannWindow } from '../dsp/hann'
import { powerToDb, quantile, quantileInPlace } from './quantile'
import { SAMPLE_RATE_HZ } from '../dsp/sampleRate'

/** One second at 12 kHz: lines one hertz apart. */
const BLOCK = SAMPLE_RATE_HZ
const KEPT_BLOCKS = 20
const LINES = 16
const HIGHEST_HZ = 60 * LINES + 40
/** A mains frequency is steered to within this share of its name. */
const MAINS_TOLERANCE = 0.004
/** How far a line must stand over what is around it, in dB, in three of four seconds. */
const LINE_STANDS_DB = 8
/** The lowest two lines alone are hum only when they stand this far out. */
const ALONE_DB = 15
/** Noise around a line is taken from this far to either side. */
const AROUND_HZ = 14
/** In seconds this steady a line is no signal: a keyed or shifted one is away from its place more often. */
const STEADY_SHARE = 0.25
/** Bins of a Hann-windowed line that hold its power. */
const LINE_REACH = 2

/** Hum of the mains: which one, how strong, and at which lines. */
export interface Hum {
  mainsHz: 50 | 60
  /** All lines together, as a root mean square, dB below full scale. */
  dbfs: number
  lines: { frequencyHz: number; dbfs: number; standsDb: number }[]
  /** Density of the noise between the lines, full scale² per Hz, for each Hz up to beyond the last line. */
  between: Float32Array
}

export interface HumMeter {
  push(samples: Float32Array): void
  /** What stands at the lines of a mains now; undefined when there is nothing, or too little was heard. */
  measure(): Hum | undefined
}

/** Listens for the 50 Hz and 60 Hz families over the last twenty seconds, in steps of one. */
export function createHumMeter(): HumMeter {
  const fft = createRealFft(BLOCK)
  const window = hannWindow(BLOCK)
  // A line of power P spreads over bins whose powers sum to P times this.
  const lineScale = 2 / (BLOCK * window.reduce((sum, w) => sum + w * w, 0))
  const block = new Float64Array(BLOCK)
  const re = new Float64Array(BLOCK / 2 + 1)
  const im = new Float64Array(BLOCK / 2 + 1)
  const kept: Float32Array[] = []
  let filled = 0

  return {
    push(samples) {
      for (let i = 0; i < samples.length; i++) {
        block[filled] = samples[i]! * window[filled]!
        filled++
        if (filled < BLOCK) continue
        filled = 0
        fft.forward(block, re, im)
        const row = kept.length < KEPT_BLOCKS ? new Float32Array(HIGHEST_HZ) : kept.shift()!
        for (let hz = 0; hz < HIGHEST_HZ; hz++) row[hz] = lineScale * (re[hz]! ** 2 + im[hz]! ** 2)
        kept.push(row)
      }
    },
    measure() {
      if (kept.length < 2) return undefined
      const steady = new Float32Array(HIGHEST_HZ)
      const column = new Float32Array(kept.length)
      for (let hz = 0; hz < HIGHEST_HZ; hz++) {
        for (let b = 0; b < kept.length; b++) column[b] = kept[b]![hz]!
        steady[hz] = quantileInPlace(column, STEADY_SHARE)
      }
      const families = ([50, 60] as const).map((mainsHz) => ({ mainsHz, ...findFamily(steady, mainsHz) }))
      const best = families[0]!.score >= families[1]!.score ? families[0]! : families[1]!
      return best.score > 0
        ? { mainsHz: best.mainsHz, dbfs: best.dbfs, lines: best.lines, between: noiseBetween(steady, best.lines) }
        : undefined
    },
  }
}

function findFamily(steady: Float32Array, mainsHz: number): { score: number; dbfs: number; lines: Hum['lines'] } {
  const lines: (Hum['lines'][number] & { order: number })[] = []
  let power = 0
  for (let order = 1; order <= LINES; order++) {
    const centre = order * mainsHz
    const off = Math.max(1, Math.round(centre * MAINS_TOLERANCE))
    let at = centre
    for (let hz = centre - off; hz <= centre + off; hz++) if (steady[hz]! > steady[at]!) at = hz
    const around: number[] = []
    for (let hz = Math.max(4, at - AROUND_HZ); hz <= at + AROUND_HZ && hz < steady.length; hz++)
      if (Math.abs(hz - at) > LINE_REACH + 1) around.push(steady[hz]!)
    const floor = quantile(around, 0.5)
    const standsDb = powerToDb(steady[at]! / Math.max(floor, 1e-16))
    if (standsDb < LINE_STANDS_DB) continue
    let linePower = 0
    for (let hz = at - LINE_REACH; hz <= at + LINE_REACH; hz++) linePower += Math.max(0, steady[hz]! - floor)
    power += linePower
    lines.push({ order, frequencyHz: at, dbfs: powerToDb(linePower), standsDb })
  }
  // A line that both families share says nothing of which it is.
  const own = lines.filter((line) => line.frequencyHz % 300 > 3 && line.frequencyHz % 300 < 297)
  const deep = lines.some((line) => line.order <= 2 && line.standsDb >= ALONE_DB)
  const enough = lines.length >= 3 && own.length >= 2
  const score = enough || deep ? own.reduce((sum, line) => sum + Math.min(40, line.standsDb), 0) : 0
  return { score, dbfs: powerToDb(power), lines: lines.map(({ frequencyHz, dbfs, standsDb }) => ({ frequencyHz, dbfs, standsDb })) }
}

/** The quantile of an exponential distribution at STEADY_SHARE is this share of its mean. */
const STEADY_OF_MEAN = -Math.log(1 - STEADY_SHARE)
/** Skirts of a strong line reach this far. */
const SKIRT_HZ = 8

function noiseBetween(steady: Float32Array, lines: Hum['lines']): Float32Array {
  const highest = Math.min(steady.length, Math.max(...lines.map((line) => line.frequencyHz)) + 30)
  const near = (hz: number) => lines.some((line) => Math.abs(line.frequencyHz - hz) <= SKIRT_HZ)
  const out = new Float32Array(highest)
  for (let hz = 0; hz < highest; hz++) {
    const around: number[] = []
    for (let k = Math.max(1, hz - 25); k <= hz + 25 && k < steady.length; k++) if (!near(k)) around.push(steady[k]!)
    out[hz] = around.length > 0 ? quantile(around, 0.5) / STEADY_OF_MEAN : 0
  }
  return out
}

import { SAMPLE_RATE_HZ } from '../dsp/sampleRate'
import { createRealFft } from '../dsp/fft'
import { hannWindow } from '../dsp/hann'
import { amplitudeToDb, powerToDb, quantile } from '../audio/quantile'
import { RAMP_STEPS, RAMP_SPAN_DB, TONE_HZ, TWO_TONES_HZ, makeSweep } from './testSignal'

/** About one second at 12 kHz; lines 1.46 Hz apart. */
const SIZE = 8192
/** Harmonics and mixtures above this spoil the band for others. */
export const HARMONIC_LIMIT_DB = -35
export const INTERMOD_LIMIT_DB = -28
export const HUM_LIMIT_DB = -35
/** An amplifier that follows its input no more by this much is at its end. */
const COMPRESSED_DB = 1

/** What was heard of an own test tone. Levels of what does not belong are against the tone, in dB. */
export interface ToneQuality {
  toneDbfs: number
  harmonicsDb: readonly number[]
  /** Strongest side line 45 to 125 Hz away: hum on the transmitted signal. */
  humDb: number
  /** Flat tops in what was heard: its crest against that of a sine, in dB; below 0 it is squared. */
  crestExcessDb: number
}

function spectrumOf(samples: Float32Array): Float64Array {
  const fft = createRealFft(SIZE)
  const windowed = new Float64Array(SIZE)
  const re = new Float64Array(SIZE / 2 + 1)
  const im = new Float64Array(SIZE / 2 + 1)
  const mean = new Float64Array(SIZE / 2 + 1)
  const hop = SIZE / 2
  let rows = 0
  for (let at = 0; at + SIZE <= samples.length; at += hop, rows++) {
    for (let i = 0; i < SIZE; i++) {
      const share = (2 * Math.PI * (i + 0.5)) / SIZE
      // Four-term window of Blackman and Harris: side lobes 92 dB down, so that a line hides nothing.
      windowed[i] = samples[at + i]! * (0.35875 - 0.48829 * Math.cos(share) + 0.14128 * Math.cos(2 * share) - 0.01168 * Math.cos(3 * share))
    }
    fft.forward(windowed, re, im)
    for (let bin = 0; bin < mean.length; bin++) mean[bin]! += re[bin]! ** 2 + im[bin]! ** 2
  }
  return rows > 0 ? mean.map((power) => power / rows) : mean
}

const binOf = (hz: number) => Math.round((hz * SIZE) / SAMPLE_RATE_HZ)

/** Power around a frequency, within a few Hz. */
function lineAt(spectrum: Float64Array, hz: number, reach = 5): number {
  let sum = 0
  const centre = binOf(hz)
  for (let bin = Math.max(0, centre - reach); bin <= Math.min(spectrum.length - 1, centre + reach); bin++) sum += spectrum[bin]!
  return sum
}

/**
 * Measures an own tone as it comes back through a monitor, a second receiver or a cable.
 * @param samples 12 kHz, the tone alone, at least 0.7 s
 * @returns undefined when the tone is not in it
 */
export function measureTone(samples: Float32Array, toneHz = TONE_HZ): ToneQuality | undefined {
  if (samples.length < SIZE) return undefined
  const spectrum = spectrumOf(samples)
  const tone = lineAt(spectrum, toneHz)
  const floor = quantile(spectrum.subarray(binOf(300), binOf(2700)), 0.5) * 11
  if (!(tone > 100 * floor)) return undefined
  const against = (hz: number) => powerToDb(Math.max(lineAt(spectrum, hz), 1e-30) / tone)
  const harmonicsDb = [2, 3].filter((n) => n * toneHz < 5400).map((n) => against(n * toneHz))
  const humDb = Math.max(...[50, 60, 100, 120].flatMap((hz) => [against(toneHz - hz), against(toneHz + hz)]))
  let peak = 0
  let power = 0
  for (const value of samples) {
    peak = Math.max(peak, Math.abs(value))
    power += value * value
  }
  const rms = Math.sqrt(power / samples.length)
  return { toneDbfs: amplitudeToDb(rms), harmonicsDb, humDb, crestExcessDb: amplitudeToDb(peak / rms) - 3.01 }
}

/** Third and fifth order mixtures of two equal tones, in dB against one of them; undefined when they are not in it. */
export function measureTwoTones(samples: Float32Array): { thirdDb: number; fifthDb: number; unevenDb: number } | undefined {
  if (samples.length < SIZE) return undefined
  const spectrum = spectrumOf(samples)
  const [a, b] = TWO_TONES_HZ
  const lower = lineAt(spectrum, a)
  const upper = lineAt(spectrum, b)
  const floor = quantile(spectrum.subarray(binOf(300), binOf(2700)), 0.5) * 11
  if (!(Math.min(lower, upper) > 100 * floor)) return undefined
  const one = (lower + upper) / 2
  const mix = (hz: number) => (hz > 0 && hz < 5400 ? lineAt(spectrum, hz) : 0)
  const step = b - a
  return {
    thirdDb: powerToDb(Math.max(mix(Math.abs(a - step)), mix(b + step), 1e-30) / one),
    fifthDb: powerToDb(Math.max(mix(Math.abs(a - 2 * step)), mix(b + 2 * step), 1e-30) / one),
    unevenDb: Math.abs(powerToDb(upper / lower)),
  }
}

export interface RampPoint {
  /** Of the audio that was sent, against the ramp's end. */
  sentDb: number
  heardDbfs: number
  harmonicDb: number
}

export interface LevelAdvice {
  /** Peak to use, share of full scale; undefined when nothing could be heard. */
  level?: number
  points: RampPoint[]
  /** Step at which it stops following, against the ramp's end; undefined when it follows all the way. */
  bendDb?: number
  words: string
}

/**
 * Finds the level at which the transmitter still follows: just below where its output bends or harmonics rise.
 * @param samples 12 kHz, beginning with the ramp's first step
 * @param topLevel peak of the ramp's last step
 */
export function adviseLevel(samples: Float32Array, durationS: number, topLevel: number): LevelAdvice {
  const stepS = durationS / RAMP_STEPS
  const points: RampPoint[] = []
  for (let step = 0; step < RAMP_STEPS; step++) {
    // The middle of each step: before it the delay of the loop, after it the next.
    const from = Math.round((step + 0.3) * stepS * SAMPLE_RATE_HZ)
    const part = samples.subarray(from, from + Math.round(0.55 * stepS * SAMPLE_RATE_HZ))
    const heard = toneIn(part)
    if (heard) points.push({ sentDb: -RAMP_SPAN_DB * (1 - step / (RAMP_STEPS - 1)), ...heard })
  }
  if (points.length < 3)
    return {
      points,
      words: 'The tone was not heard back at enough levels. Check the monitor, the second receiver or the cable, or set the level by eye.',
    }
  // The lowest points that stand clear tell how output follows input when nothing is overdriven.
  const offset = quantile(
    points.slice(0, 3).map((p) => p.heardDbfs - p.sentDb),
    0.5,
  )
  const bend = points.find((p) => p.sentDb + offset - p.heardDbfs > COMPRESSED_DB || p.harmonicDb > HARMONIC_LIMIT_DB)
  const level = topLevel * 10 ** (((bend?.sentDb ?? 0) - (bend ? 3 : 0)) / 20)
  const shown = `${Math.round(100 * level)} %`
  return {
    level,
    points,
    ...(bend && { bendDb: bend.sentDb }),
    words: bend
      ? `Output stops following at ${Math.round(100 * topLevel * 10 ** (bend.sentDb / 20))} % of full scale. Use ${shown}, 3 dB below.`
      : `Output follows all the way. ${shown} is clean; more was not tried.`,
  }
}

/** Level of the tone in a short stretch, and its harmonics, by correlation; undefined when it is not there. */
function toneIn(part: Float32Array): { heardDbfs: number; harmonicDb: number } | undefined {
  if (part.length < 600) return undefined
  const window = hannWindow(part.length)
  const powerAt = (hz: number) => {
    let re = 0
    let im = 0
    let weight = 0
    for (let i = 0; i < part.length; i++) {
      const w = window[i]!
      const angle = (2 * Math.PI * hz * i) / SAMPLE_RATE_HZ
      re += w * part[i]! * Math.cos(angle)
      im += w * part[i]! * Math.sin(angle)
      weight += w
    }
    return (2 * (re * re + im * im)) / (weight * weight)
  }
  const tone = powerAt(TONE_HZ)
  const beside = Math.max(powerAt(TONE_HZ - 170), powerAt(TONE_HZ + 190), 1e-14)
  if (tone < 30 * beside) return undefined
  return { heardDbfs: powerToDb(tone), harmonicDb: powerToDb(Math.max(powerAt(2 * TONE_HZ), powerAt(3 * TONE_HZ)) / tone) }
}

/**
 * Finds a sweep in what was heard.
 * @param samples 12 kHz
 * @returns where its first sample lies, in seconds, and how far it stands out; undefined when it is not there
 */
export function findSweep(samples: Float32Array): { atS: number; standsDb: number } | undefined {
  const sweep = makeSweep(SAMPLE_RATE_HZ, 1)
  const count = samples.length - sweep.length
  if (count < 100) return undefined
  const envelope = new Float64Array(count)
  // A quarter wave later the product turns its sign: both together do not depend on the phase of what was heard.
  const quarter = quadrature(sweep)
  let best = 0
  for (let at = 0; at < count; at++) {
    let a = 0
    let b = 0
    for (let i = 0; i < sweep.length; i++) {
      a += sweep[i]! * samples[at + i]!
      b += quarter[i]! * samples[at + i]!
    }
    envelope[at] = a * a + b * b
    if (envelope[at]! > envelope[best]!) best = at
  }
  const standsDb = powerToDb(envelope[best]! / Math.max(quantile(envelope, 0.5), 1e-20))
  if (standsDb < 15) return undefined
  const [left, middle, right] = [envelope[best - 1] ?? 0, envelope[best]!, envelope[best + 1] ?? 0]
  const bend = left - 2 * middle + right
  const shift = bend < 0 ? (0.5 * (left - right)) / bend : 0
  return { atS: (best + shift) / SAMPLE_RATE_HZ, standsDb }
}

function quadrature(sweep: Float32Array): Float32Array {
  const duration = sweep.length / SAMPLE_RATE_HZ
  return Float32Array.from(sweep, (_, i) => {
    const t = i / SAMPLE_RATE_HZ
    return Math.cos(2 * Math.PI * (500 * t + (2000 * t * t) / (2 * duration)))
  })
}

/**
 * When a tone is there in what was heard: for a VOX that trips late and lets go late.
 * @param samples 12 kHz
 * @returns seconds from the first sample to its first and last moment; undefined when it is not there
 */
export function findTone(samples: Float32Array, toneHz = TONE_HZ): { fromS: number; toS: number } | undefined {
  const step = 60
  const width = 120
  const levels: number[] = []
  for (let at = 0; at + width <= samples.length; at += step) {
    let re = 0
    let im = 0
    for (let i = 0; i < width; i++) {
      const angle = (2 * Math.PI * toneHz * (at + i)) / SAMPLE_RATE_HZ
      re += samples[at + i]! * Math.cos(angle)
      im += samples[at + i]! * Math.sin(angle)
    }
    levels.push(re * re + im * im)
  }
  if (levels.length < 20) return undefined
  const top = quantile(levels, 0.98)
  const floor = quantile(levels, 0.1)
  // In noise alone such short stretches differ by a factor of forty or so.
  if (!(top > 200 * floor)) return undefined
  // Half the voltage between floor and top.
  const limit = (0.5 * Math.sqrt(top) + 0.5 * Math.sqrt(floor)) ** 2
  const first = levels.findIndex((l) => l > limit)
  const last = levels.findLastIndex((l) => l > limit)
  return { fromS: (first * step + width / 2) / SAMPLE_RATE_HZ, toS: (last * step + width / 2) / SAMPLE_RATE_HZ }
}

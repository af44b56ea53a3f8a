import { SYMBOL_COUNT, SYMBOL_S, TONE_SPACING_HZ } from './signal'

const { sin, cos, abs, exp, min, max, floor } = Math

const BANDWIDTH_TIME = 2.0

export interface ModulateOptions {
  /** Samples per second of the result, more than twice the highest tone. */
  sampleRateHz: number
  /** Audio frequency of the lowest tone. */
  audioOffsetHz: number
  /** Peak of the result, 0 to 1; default 1. */
  amplitude?: number
  /** Silence before the transmission, in seconds; default 0. */
  leadS?: number
  /** Phase of the carrier at the start, in radians; default 0. */
  phaseRad?: number
  /** Linear drift in Hz per second, for simulations; default 0. */
  driftHzPerS?: number
}

/**
 * Error function, by Abramowitz and Stegun 7.1.26 (error below 1.5e-7).
 */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * abs(x))
  const y = 1 - ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * exp(-x * x)
  return x < 0 ? -y : y
}

/** The Gaussian-smoothed frequency pulse of one symbol, `t` in symbols from its centre; three symbols long, area 1. */
export function frequencyPulse(t: number): number {
  const k = Math.PI * BANDWIDTH_TIME * Math.sqrt(2 / Math.LN2)
  return 0.5 * (erf(k * (t + 0.5)) - erf(k * (t - 0.5)))
}

/**
 * Computes the phase of the smoothed tone sequence, relative to the lowest tone, at each sample.
 * The first and last symbol are taken to extend outwards, as in the protocol description.
 * @returns SYMBOL_COUNT x SYMBOL_S x sampleRateHz values in radians
 */
export function tonePhase(tones: ArrayLike<number>, sampleRateHz: number): Float64Array {
  const samplesPerSymbol = SYMBOL_S * sampleRateHz
  const count = Math.round(SYMBOL_COUNT * samplesPerSymbol)
  const phase = new Float64Array(count)
  const toRadians = (2 * Math.PI * TONE_SPACING_HZ) / sampleRateHz
  // The pulse is the same for every symbol when a symbol is a whole number of samples; tabulating it saves most of the work.
  const whole = Number.isInteger(samplesPerSymbol)
  const table = whole ? pulseTable(samplesPerSymbol) : null
  let sum = 0
  for (let i = 0; i < count; i++) {
    const at = (i + 0.5) / samplesPerSymbol
    const symbol = min(SYMBOL_COUNT - 1, floor(at))
    let tone = 0
    for (let d = -1; d <= 1; d++) {
      const k = min(SYMBOL_COUNT - 1, max(0, symbol + d))
      const pulse = table ? table[i - (symbol + d) * samplesPerSymbol + samplesPerSymbol]! : frequencyPulse(at - (symbol + d) - 0.5)
      tone += tones[k]! * pulse
    }
    phase[i] = sum
    sum += tone * toRadians
  }
  return phase
}

const pulseTables = new Map<number, Float64Array>()

function pulseTable(samplesPerSymbol: number): Float64Array {
  let table = pulseTables.get(samplesPerSymbol)
  if (!table) {
    table = Float64Array.from({ length: samplesPerSymbol * 3 }, (_, i) => frequencyPulse((i + 0.5) / samplesPerSymbol - 1.5))
    pulseTables.set(samplesPerSymbol, table)
  }
  return table
}

/** The amplitude of the first and last eighth of a symbol: half a raised cosine. */
function ramp(i: number, count: number, rampSamples: number): number {
  const edge = min(i, count - 1 - i)
  return edge >= rampSamples ? 1 : 0.5 * (1 - cos((Math.PI * (edge + 0.5)) / rampSamples))
}

/**
 * Makes the audio of one transmission from its 79 tones.
 * @throws {RangeError} tones outside 0 to half the sample rate, or a wrong count of tones
 */
export function modulate(tones: ArrayLike<number>, options: ModulateOptions): Float32Array {
  const { sampleRateHz, audioOffsetHz, amplitude = 1, leadS = 0, phaseRad = 0, driftHzPerS = 0 } = options
  if (tones.length !== SYMBOL_COUNT) throw new RangeError(`an FT8 transmission has ${SYMBOL_COUNT} tones, got ${tones.length}`)
  const highestHz = audioOffsetHz + 8 * TONE_SPACING_HZ
  if (!(audioOffsetHz > 0 && highestHz < sampleRateHz / 2))
    throw new RangeError(`audioOffsetHz must leave all tones between 0 and ${sampleRateHz / 2} Hz, got ${audioOffsetHz}`)
  const phase = tonePhase(tones, sampleRateHz)
  const lead = Math.round(leadS * sampleRateHz)
  const out = new Float32Array(lead + phase.length)
  const rampSamples = Math.round((SYMBOL_S * sampleRateHz) / 8)
  const step = (2 * Math.PI * audioOffsetHz) / sampleRateHz
  const bend = (Math.PI * driftHzPerS) / sampleRateHz ** 2
  for (let i = 0; i < phase.length; i++) {
    const angle = phaseRad + step * i + bend * i * i + phase[i]!
    out[lead + i] = amplitude * ramp(i, phase.length, rampSamples) * sin(angle)
  }
  return out
}

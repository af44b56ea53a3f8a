import { createGaussian, type Random } from '../dsp/random'

const { cos, sin, sqrt, round, min, PI, SQRT1_2 } = Math

/** A path by the ionosphere: two rays that fade on their own. */
export interface TwoPathOptions {
  /** Frequency spread (two standard deviations of the Doppler spectrum) in Hz. */
  spreadHz: number
  /** How much later the second ray arrives, in seconds. Default 1 ms. */
  delayS?: number
}

/** Gain of a path as in-phase and quadrature part, at a time in seconds. */
type Gain = (timeS: number) => [number, number]

const TERMS = 24

/**
 * Gain of one ray: a complex Gaussian process with a Gaussian Doppler spectrum, mean power 1, as the usual model of an
 * HF channel has it (Watterson, Juroshek and Bensema, IEEE Trans. Commun. Technol. COM-18, 1970). Made of 24 slow turns with
 * frequencies drawn from that spectrum.
 */
function createRay(spreadHz: number, random: Random): Gain {
  const gaussian = createGaussian(random)
  const turns = Array.from({ length: TERMS }, () => ({
    step: 2 * PI * (spreadHz / 2) * gaussian(),
    phase: 2 * PI * random(),
  }))
  const scale = 1 / sqrt(TERMS)
  return (timeS) => {
    let re = 0
    let im = 0
    for (const { step, phase } of turns) {
      re += cos(step * timeS + phase)
      im += sin(step * timeS + phase)
    }
    return [re * scale, im * scale]
  }
}

const GAIN_STEP_S = 0.01

/**
 * Sends a signal over two rays of equal mean power.
 * @param inPhase the signal as it is, real samples
 * @param quadrature the same signal a quarter turn later
 * @returns what arrives, as long as the signal and the delay; its mean power over many draws is that of the signal
 */
export function overTwoPaths(
  inPhase: Float32Array,
  quadrature: Float32Array,
  sampleRateHz: number,
  { spreadHz, delayS = 0.001 }: TwoPathOptions,
  random: Random,
): Float32Array {
  const delay = round(delayS * sampleRateHz)
  const out = new Float32Array(inPhase.length + delay)
  const stepSamples = round(GAIN_STEP_S * sampleRateHz)
  for (const late of [0, delay]) {
    const ray = createRay(spreadHz, random)
    for (let from = 0; from < inPhase.length; from += stepSamples) {
      const [re, im] = ray(from / sampleRateHz)
      const [re2, im2] = ray((from + stepSamples) / sampleRateHz)
      const to = min(inPhase.length, from + stepSamples)
      for (let i = from; i < to; i++) {
        const share = (i - from) / stepSamples
        const gr = (re + share * (re2 - re)) * SQRT1_2
        const gi = (im + share * (im2 - im)) * SQRT1_2
        out[i + late]! += gr * inPhase[i]! - gi * quadrature[i]!
      }
    }
  }
  return out
}

import { createGaussian, createRandom } from '../dsp'
import { encodePsk31 } from './modulate'
import { SAMPLE_RATE_HZ, SYMBOL_S } from './signal'

export interface SimulatedConversation {
  text: string
  frequencyHz: number
  /** In 2500 Hz: energy of a bit of the idling and typed signal over the noise. */
  snrDb: number
  startS: number
}

/** Noise in simulated audio, as its root mean square. */
export const NOISE_RMS = 0.05
/** Its one-sided density. */
export const NOISE_DENSITY = (2 * NOISE_RMS ** 2) / SAMPLE_RATE_HZ

/** Amplitude of the steady carrier that gives a signal-to-noise ratio beside noise of `NOISE_RMS`. */
export function amplitudeForSnr(snrDb: number): number {
  const energy = NOISE_DENSITY * 2500 * SYMBOL_S * 10 ** (snrDb / 10)
  // A bit of a carrier of amplitude 1 holds three eighths of a symbol.
  return Math.sqrt(energy / (0.375 * SYMBOL_S))
}

/** Conversations over white noise, at 12 kHz. */
export function simulateBand(conversations: readonly SimulatedConversation[], lengthS: number, seed: number): Float32Array {
  const samples = new Float32Array(Math.round(lengthS * SAMPLE_RATE_HZ))
  const noise = createGaussian(createRandom(seed))
  for (let i = 0; i < samples.length; i++) samples[i] = NOISE_RMS * noise()
  for (const { text, frequencyHz, snrDb, startS } of conversations) {
    const signal = encodePsk31(text, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz, amplitude: amplitudeForSnr(snrDb) })
    const from = Math.round(startS * SAMPLE_RATE_HZ)
    for (let i = 0; i < signal.length && from + i < samples.length; i++) samples[from + i]! += signal[i]!
  }
  return samples
}

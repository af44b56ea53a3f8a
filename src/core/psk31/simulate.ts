import { createGaussian, createRandom } from '../dsp'
import { encodePsk31 } from './modulate'
import { SAMPLE_RATE_HZ, SYMBOL_S, type Baud } from './signal'

export interface SimulatedConversation {
  text: string
  frequencyHz: number
  /** In 2500 Hz: energy of a bit of the idling and typed signal over the noise. */
  snrDb: number
  startS: number
  driftHzS?: number
  /** Spread of a path that fades, as the width of its spectrum: the signal is the sum of many that differ by so much. */
  spreadHz?: number
  baud?: Baud
}

/** How the amplitude and phase of a path change is drawn anew so often, in seconds. */
const FADING_STEP_S = 0.005
const FADING_TONES = 24

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
  const random = createRandom(seed + 1)
  for (const conversation of conversations) {
    const { text, frequencyHz, snrDb, startS, driftHzS, spreadHz, baud } = conversation
    const signal =
      driftHzS || spreadHz
        ? throughPath(conversation, random)
        : encodePsk31(text, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz, amplitude: amplitudeForSnr(snrDb), ...(baud && { baud }) })
    const from = Math.round(startS * SAMPLE_RATE_HZ)
    for (let i = 0; i < signal.length && from + i < samples.length; i++) samples[from + i]! += signal[i]!
  }
  return samples
}

/** A conversation whose carrier drifts or fades on its way. */
function throughPath({ text, frequencyHz, snrDb, driftHzS = 0, spreadHz = 0 }: SimulatedConversation, random: () => number): Float32Array {
  // At no frequency the modulator gives its envelope, with its sign.
  const signal = encodePsk31(text, { sampleRateHz: SAMPLE_RATE_HZ, frequencyHz: 0, amplitude: amplitudeForSnr(snrDb) })
  const gauss = createGaussian(random)
  const tones = Array.from({ length: spreadHz > 0 ? FADING_TONES : 0 }, () => ({
    hz: (spreadHz / 2) * gauss(),
    phase: 2 * Math.PI * random(),
  }))
  const step = Math.round(FADING_STEP_S * SAMPLE_RATE_HZ)
  let [gainRe, gainIm] = [1, 0]
  for (let i = 0; i < signal.length; i++) {
    const t = i / SAMPLE_RATE_HZ
    if (tones.length > 0 && i % step === 0) {
      ;[gainRe, gainIm] = [0, 0]
      for (const { hz, phase } of tones) {
        gainRe += Math.cos(2 * Math.PI * hz * t + phase) / Math.sqrt(FADING_TONES)
        gainIm += Math.sin(2 * Math.PI * hz * t + phase) / Math.sqrt(FADING_TONES)
      }
    }
    const turn = 2 * Math.PI * (frequencyHz * t + (driftHzS * t * t) / 2)
    signal[i]! *= gainRe * Math.cos(turn) - gainIm * Math.sin(turn)
  }
  return signal
}

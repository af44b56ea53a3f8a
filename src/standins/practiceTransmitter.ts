import { createGaussian, createRandom, resample } from '@/core/dsp'
import { SAMPLE_RATE_HZ } from '@/core/ft8'

/** The invented radio's transmit side, as a second receiver hears it. */
export interface PracticeTransmitter {
  /** Peak at which the VOX trips, how long it takes, and how long it holds on. */
  voxThreshold: number
  voxDelayMs: number
  voxHangMs: number
  /** Peak beyond which its output no longer follows. */
  limit: number
  /** From the sound device to the air and back through the other receiver. */
  latencyMs: number
  /** Hum on the carrier, share of it. */
  hum: number
  noiseRms: number
}

export const PRACTICE_TRANSMITTER: PracticeTransmitter = {
  voxThreshold: 0.1,
  voxDelayMs: 85,
  voxHangMs: 420,
  limit: 0.45,
  latencyMs: 62,
  hum: 0.003,
  noiseRms: 0.002,
}

const TAIL_S = 1
/** Level at which the other receiver gives it. */
const HEARD = 0.3

/**
 * What comes back of transmitted audio.
 * @param samples as they left the modulator
 * @returns 12 kHz, from the first sample's due instant to one second after the last
 */
export function monitorPracticeTransmitter(
  samples: Float32Array,
  sampleRateHz: number,
  radio: PracticeTransmitter = PRACTICE_TRANSMITTER,
  seed = 1,
): Float32Array {
  const audio = resample(samples, sampleRateHz, SAMPLE_RATE_HZ)
  const gaussian = createGaussian(createRandom(seed))
  const latency = Math.round((radio.latencyMs / 1000) * SAMPLE_RATE_HZ)
  const out = new Float32Array(audio.length + latency + TAIL_S * SAMPLE_RATE_HZ)
  const delay = (radio.voxDelayMs / 1000) * SAMPLE_RATE_HZ
  const hang = (radio.voxHangMs / 1000) * SAMPLE_RATE_HZ
  let loud = 0
  let since = Infinity
  for (let i = 0; i < out.length; i++) {
    const value = audio[i] ?? 0
    // A VOX follows the peaks: what was loud within the last few milliseconds.
    since = Math.abs(value) >= radio.voxThreshold ? 0 : since + 1
    loud = since < 0.005 * SAMPLE_RATE_HZ ? loud + 1 : loud >= delay && since < hang ? loud : 0
    const keyed = loud >= delay
    // Straight up to six tenths of its limit; beyond, the top is squeezed.
    const size = Math.abs(value) / radio.limit
    const straight = size < 0.6 ? value : Math.sign(value) * radio.limit * (0.6 + 0.4 * Math.tanh((size - 0.6) / 0.4))
    const buzz = 1 + radio.hum * Math.sin((2 * Math.PI * 100 * i) / SAMPLE_RATE_HZ)
    if (i + latency < out.length)
      out[i + latency]! += radio.noiseRms * gaussian() * (keyed ? 0.3 : 1) + (keyed ? (HEARD * straight * buzz) / radio.limit : 0)
  }
  return out
}

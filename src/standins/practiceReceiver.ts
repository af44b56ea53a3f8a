import { createMonoMix } from '@/core/audio'
import { createBandFilter } from '@/core/dsp'
import { SAMPLE_RATE_HZ, SIMULATED_NOISE_RMS } from '@/core/ft8'
import { createFaultyReceiver, USUAL_AMOUNTS, type FaultyReceiver, type ReceiveFault } from './receiveFaults'

/** Volume of the practice radio: its noise lies where the coach wants it, so that only a fault is a fault. */
const VOLUME = 0.25
/** What a well-set radio lets through on upper sideband. */
const PRACTICE_PASSBAND_HZ = [180, 2900] as const

export interface ReceivedAudio {
  /** Mono at 12 kHz, as the modems take it. */
  samples: Float32Array
  /** As it was converted. */
  channels: Float32Array[]
}

/** The operator's receiver on the practice band: a filter, a lead and a converter, with faults that can be switched on. */
export interface PracticeReceiver {
  setFaults(faults: readonly ReceiveFault[]): void
  /** Turns the volume between radio and converter. @param db from where it belongs */
  setVolume(db: number): void
  receive(air: Float32Array): ReceivedAudio
}

export function createPracticeReceiver(seed: number): PracticeReceiver {
  const filter = createBandFilter(SAMPLE_RATE_HZ, ...PRACTICE_PASSBAND_HZ)
  const mix = createMonoMix()
  const withFaults = (faults: readonly ReceiveFault[]): FaultyReceiver =>
    createFaultyReceiver(
      faults.map((fault) => ({ fault, amount: USUAL_AMOUNTS[fault] })),
      { rateHz: SAMPLE_RATE_HZ, seed, noiseRms: VOLUME * SIMULATED_NOISE_RMS, gain: () => gain },
    )
  let gain = 1
  let receiver = withFaults([])
  return {
    setFaults(faults) {
      receiver = withFaults(faults)
    },
    setVolume(db) {
      gain = 10 ** (db / 20)
    },
    receive(air) {
      const channels = receiver.push(filter(air.map((value) => VOLUME * value)))
      return { samples: mix.push(channels).slice(), channels }
    },
  }
}

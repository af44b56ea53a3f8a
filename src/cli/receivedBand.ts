import { addSignal, SAMPLE_RATE_HZ, simulatedCrowd } from '@/core/ft8'
import { createBandFilter, createRandom, whiteNoise, type Random } from '@/core/dsp'
import { createFaultyReceiver, type FaultAmount } from '@/standins'

/** Signals on in each slot. */
export const CROWDS = { quiet: 2, normal: 15, crowded: 50 } as const
export type Crowd = keyof typeof CROWDS

/** Filters and gain controls need this long to fill; it is cut off. */
const SETTLING_S = 1

export interface ReceivedBand {
  seed: number
  crowd: Crowd
  /** Default 20 s. */
  durationS?: number
  /** Of the noise before the filter, full scale 1. */
  noiseRms?: number
  /** The radio's filter; none when null. */
  filterHz?: [number, number] | null
  faults?: readonly FaultAmount[]
  /** One station 22 dB over the noise in every other slot, for faults that need one. */
  strongStation?: boolean
}

/** What a receiver gives of a simulated band that one begins to listen to at any moment, through a filter, with faults. */
export function simulateReceived({
  seed,
  crowd,
  durationS = 20,
  noiseRms = 0.02,
  filterHz = [200, 2900],
  faults = [],
  strongStation = false,
}: ReceivedBand): Float32Array[] {
  const random = createRandom(seed)
  const samples = whiteNoise(Math.round((durationS + SETTLING_S) * SAMPLE_RATE_HZ), noiseRms, seed ^ 0x11)
  const firstSlotS = SETTLING_S - 15 * random()
  for (let slot = 0; firstSlotS + 15 * slot < durationS + SETTLING_S; slot++) {
    addCrowd(samples, firstSlotS + 15 * slot, crowd, random, noiseRms)
    if (strongStation && slot % 2 === 0) addStrong(samples, firstSlotS + 15 * slot, random, noiseRms)
  }
  const filtered = filterHz ? createBandFilter(SAMPLE_RATE_HZ, ...filterHz)(samples) : samples
  const receiver = createFaultyReceiver(faults, { rateHz: SAMPLE_RATE_HZ, seed, noiseRms })
  return receiver.push(filtered).map((channel) => channel.subarray(SETTLING_S * SAMPLE_RATE_HZ))
}

function addCrowd(samples: Float32Array, startS: number, crowd: Crowd, random: Random, noiseRms: number): void {
  for (const signal of simulatedCrowd(CROWDS[crowd], random, { lowestHz: 250, highestHz: 2750 }))
    addSignal(samples, Math.round(startS * SAMPLE_RATE_HZ), signal, random, noiseRms)
}

function addStrong(samples: Float32Array, startS: number, random: Random, noiseRms: number): void {
  const signal = { text: 'CQ Q1ABC JO31', snrDb: 22, audioOffsetHz: 400 + 2000 * random(), timeOffsetS: 0.2 }
  addSignal(samples, Math.round(startS * SAMPLE_RATE_HZ), signal, random, noiseRms)
}

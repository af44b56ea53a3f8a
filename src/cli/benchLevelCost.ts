import { createBandFilter, createRandom, whiteNoise } from '@/core/dsp'
import { addSignal, decodeSlot, madeUpCall, SAMPLE_RATE_HZ, SLOT_S } from '@/core/ft8'
import { createFaultyReceiver, USUAL_AMOUNTS, type ReceiveFault } from '@/standins'
import { halfPoint } from './halfPoint'

/** Severities that are tried, from harmless to bad. */
const TRIED: Partial<Record<ReceiveFault, readonly number[]>> = {
  clipping: [16, 18, 20, 24, 30],
  'too-quiet': [46, 52, 56, 60],
  'hum-50': [-6, 0, 3, 6, 12],
  'agc-pumping': [6, 12, 18],
  'noise-gate': [3, 6, 12, 20],
  'noise-reduction': [6, 10, 15, 20],
  speech: [-3, 0, 3, 8],
  dropouts: [0.03, 0.05, 0.1, 0.2],
}
const WEAK_DB = [-22, -21, -20, -19, -18, -17, -16, -15]
/** Weak signals of a slot, in lanes of their own, and two strong ones that move gains and clip. */
const LANES = 8
const NOISE_RMS = 10 ** (-42 / 20)

/** `zeptik bench level-cost`: what each fault costs in decoding, by the signal-to-noise ratio at which half is decoded. */
export function benchLevelCost({ seed, trials }: { seed: number; trials: number }): void {
  console.log(
    `seed ${seed}, ${trials} slots of ${LANES} weak signals at each of ${WEAK_DB.length} strengths; two strong stations in each slot\n`,
  )
  const clean = costPoint(seed, trials)
  console.log(`without a fault half are decoded at ${clean.toFixed(1)} dB`)
  for (const [fault, amounts] of Object.entries(TRIED) as [ReceiveFault, readonly number[]][]) {
    const costs = amounts.map((amount) => `${amount}: ${(costPoint(seed, trials, fault, amount) - clean).toFixed(1)} dB`)
    console.log(`${fault.padEnd(16)} usual ${String(USUAL_AMOUNTS[fault]).padStart(5)}   ${costs.join('   ')}`)
  }
}

function costPoint(seed: number, trials: number, fault?: ReceiveFault, amount = 0): number {
  return halfPoint(WEAK_DB, (snr) => shareDecoded(seed, trials, snr, fault, amount)) ?? WEAK_DB[WEAK_DB.length - 1]! + 1
}

function shareDecoded(seed: number, trials: number, snr: number, fault: ReceiveFault | undefined, amount: number): number {
  let decoded = 0
  for (let trial = 0; trial < trials; trial++) {
    const random = createRandom(seed * 7919 + trial * 13 + Math.round(snr * 10))
    const samples = whiteNoise(SLOT_S * SAMPLE_RATE_HZ, NOISE_RMS, Math.floor(random() * 2 ** 30))
    const weak = Array.from({ length: LANES }, (_, lane) => {
      const text = `CQ ${madeUpCall(random)} JN${10 + Math.floor(random() * 90)}`
      addSignal(
        samples,
        0,
        { text, snrDb: snr, audioOffsetHz: 450 + 290 * lane + 40 * random(), timeOffsetS: 0.4 * random() },
        random,
        NOISE_RMS,
      )
      return text
    })
    for (const hz of [330, 2700])
      addSignal(
        samples,
        0,
        { text: `CQ ${madeUpCall(random)} JO22`, snrDb: 18, audioOffsetHz: hz, timeOffsetS: 0.8 * random() - 0.4 },
        random,
        NOISE_RMS,
      )
    const faults = fault ? [{ fault, amount }] : []
    const receiver = createFaultyReceiver(faults, { rateHz: SAMPLE_RATE_HZ, seed: seed + trial, noiseRms: NOISE_RMS })
    const heard = receiver.push(createBandFilter(SAMPLE_RATE_HZ, 200, 2950)(samples))[0]!
    const found = new Set(decodeSlot(heard).map((d) => d.text))
    decoded += weak.filter((text) => found.has(text)).length
  }
  return decoded / (trials * LANES)
}

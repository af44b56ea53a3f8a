import { createRandom, whiteNoise, type Random } from '@/core/dsp'
import { addSignal, decodeSlot, madeUpCall, SAMPLE_RATE_HZ, SLOT_S, type SimulatedSignal } from '@/core/ft8'
import { halfPoint } from './halfPoint'

const STRENGTHS_DB = Array.from({ length: 20 }, (_, i) => -23 + i)
/** Weak signals of a slot, each in a lane of its own. */
const LANES = 8
const NOISE_RMS = 0.02
/** Audio before and after the slot, so that clocks that are off lose nothing. */
const MARGIN_S = 2.5

interface Hardship {
  name: string
  signal?: (random: Random, lane: number) => Partial<SimulatedSignal>
  audio?: (samples: Float32Array, random: Random) => void
}

const twoPath = (spreadHz: number): Hardship => ({
  name: `two rays 1 ms apart, spread ${spreadHz} Hz`,
  signal: () => ({ twoPath: { spreadHz } }),
})

const HARDSHIPS: readonly Hardship[] = [
  { name: 'none' },
  twoPath(0.1),
  twoPath(0.5),
  twoPath(1),
  { name: 'drift of 0.3 Hz/s', signal: (_, lane) => ({ driftHzPerS: lane % 2 ? 0.3 : -0.3 }) },
  { name: 'drift of 0.6 Hz/s', signal: (_, lane) => ({ driftHzPerS: lane % 2 ? 0.6 : -0.6 }) },
  { name: 'drift of 1 Hz/s', signal: (_, lane) => ({ driftHzPerS: lane % 2 ? 1 : -1 }) },
  { name: 'sample clock 200 ppm off', signal: (_, lane) => ({ clockPpm: lane % 2 ? 200 : -200 }) },
  { name: 'clock 2.5 s off', signal: (_, lane) => ({ timeOffsetS: lane % 2 ? 2.5 : -2.5 }) },
  {
    name: 'clipped at 1.0 of the noise',
    audio: (samples) => samples.forEach((v, i) => (samples[i] = Math.max(-NOISE_RMS, Math.min(NOISE_RMS, v)))),
  },
  {
    name: '10 clicks/s of 1 ms, 20 times the noise',
    audio: (samples, random) => {
      for (let n = 0; n < (10 * samples.length) / SAMPLE_RATE_HZ; n++) {
        const at = Math.floor(random() * (samples.length - 12))
        for (let i = 0; i < 12; i++) samples[at + i]! += 20 * NOISE_RMS * (2 * random() - 1)
      }
    },
  },
]

/** `zeptik bench hardship`: what a bad path, bad clocks and bad audio cost, by the strength at which half is decoded. */
export function benchHardship({ seed, trials }: { seed: number; trials: number }): void {
  console.log(`seed ${seed}, ${trials} slots of ${LANES} signals at each strength; strength at which half is decoded, mean over the fading`)
  let plain: number | undefined
  for (const hardship of HARDSHIPS) {
    let wrong = 0
    const half = halfPoint(STRENGTHS_DB, (snrDb) => {
      const result = measure(hardship, snrDb, seed, trials)
      wrong += result.wrong
      return result.share
    })
    plain ??= half
    const words =
      half === undefined
        ? `not reached at ${STRENGTHS_DB[STRENGTHS_DB.length - 1]} dB`
        : `${half.toFixed(1)} dB, loss ${(half - plain!).toFixed(1)} dB`
    console.log(`${hardship.name.padEnd(42)} ${words}${wrong > 0 ? `, ${wrong} false` : ''}`)
  }
}

function measure(hardship: Hardship, snrDb: number, seed: number, trials: number): { share: number; wrong: number } {
  let decoded = 0
  let wrong = 0
  for (let trial = 0; trial < trials; trial++) {
    const random = createRandom(seed * 7919 + trial * 131 + Math.round(snrDb * 10))
    const samples = whiteNoise((SLOT_S + 2 * MARGIN_S) * SAMPLE_RATE_HZ, NOISE_RMS, Math.floor(random() * 2 ** 30))
    const sent = new Set<string>()
    for (let lane = 0; lane < LANES; lane++) {
      const text = `CQ ${madeUpCall(random)} JN${10 + Math.floor(random() * 90)}`
      sent.add(text)
      const signal = { text, snrDb, audioOffsetHz: 350 + 300 * lane + 40 * random(), timeOffsetS: 0.8 * random() - 0.4 }
      addSignal(samples, MARGIN_S * SAMPLE_RATE_HZ, { ...signal, ...hardship.signal?.(random, lane) }, random, NOISE_RMS)
    }
    hardship.audio?.(samples, random)
    const found = decodeSlot(samples, { slotStartS: MARGIN_S }).map((d) => d.text)
    decoded += found.filter((text) => sent.has(text)).length
    wrong += found.filter((text) => !sent.has(text)).length
  }
  return { share: decoded / (trials * LANES), wrong }
}

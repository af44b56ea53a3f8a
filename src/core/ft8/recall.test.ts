import { createRandom } from '../dsp/random'
import { decodeSlot } from './decode'
import { simulatedCrowd, simulateSlot, type SimulatedSignal } from './simulate'

/** How many of a seeded slot's messages are found. These figures may only ever be raised. */
const RECALL = [
  { seed: 301, signals: 5, found: 5 },
  { seed: 304, signals: 30, found: 28 },
  { seed: 305, signals: 50, found: 47 },
  { seed: 306, signals: 50, found: 48 },
] as const

/** Slots of eight signals at -16 dB, on a path or from a sender that is hard on them. */
const HARD: readonly { name: string; signal: Partial<SimulatedSignal>; found: number; slots?: number }[] = [
  { name: 'two rays, spread 0.5 Hz', signal: { twoPath: { spreadHz: 0.5 } }, found: 15 },
  { name: 'drift of 1 Hz/s', signal: { driftHzPerS: 1 }, found: 16 },
  { name: 'drift of -0.6 Hz/s', signal: { driftHzPerS: -0.6 }, found: 16 },
  { name: 'sample clock 200 ppm fast', signal: { clockPpm: 200 }, found: 8, slots: 1 },
]

function decode(signals: readonly SimulatedSignal[], seed: number) {
  const texts = decodeSlot(simulateSlot(signals, seed)).map((d) => d.text)
  const sent = new Set(signals.map((s) => s.text))
  return { found: texts.filter((t) => sent.has(t)).length, wrong: texts.filter((t) => !sent.has(t)) }
}

describe('recall', () => {
  it.each(RECALL)('seed $seed: $found of $signals', ({ seed, signals, found }) => {
    const result = decode(simulatedCrowd(signals, createRandom(seed)), seed + 1000)
    expect(result.found).toBeGreaterThanOrEqual(found)
    expect(result.wrong).toEqual([])
  })

  it.each(HARD)('$name: $found', ({ signal, found, slots = 2 }) => {
    let total = 0
    for (let seed = 1; seed <= slots; seed++) {
      const signals = Array.from({ length: 8 }, (_, i) => ({
        text: `CQ Q${i}ABC JN${10 + i}`,
        snrDb: -16,
        audioOffsetHz: 400 + 290 * i,
        timeOffsetS: 0.1 * i - 0.3,
        ...signal,
      }))
      total += decode(signals, seed).found
    }
    expect(total).toBeGreaterThanOrEqual(found)
  })
})

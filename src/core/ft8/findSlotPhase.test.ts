import { createRandom } from '../dsp/random'
import { findSlotPhase } from './findSlotPhase'
import { SAMPLE_RATE_HZ, SLOT_S } from './signal'
import { addSignal, madeUpCall, simulateSlot } from './simulate'

/** 45 s of a band whose slots begin at a phase. */
function recording(phaseS: number, stations: number, { seed = 3, seconds = 45, snrDb = -8 } = {}): Float32Array {
  const random = createRandom(seed)
  const samples = simulateSlot([], seed, { durationS: seconds })
  for (let i = 0; i < stations; i++) {
    const text = `CQ ${madeUpCall(random)} JN97`
    const timeOffsetS = 0.2 * (random() - 0.5)
    for (let k = -1 + (i % 2); phaseS + k * SLOT_S < seconds; k += 2)
      addSignal(
        samples,
        Math.round((phaseS + k * SLOT_S) * SAMPLE_RATE_HZ),
        { text, snrDb, audioOffsetHz: 400 + 230 * i, timeOffsetS },
        random,
      )
  }
  return samples
}
const error = (a: number, b: number) => Math.min(Math.abs(a - b), SLOT_S - Math.abs(a - b))

describe('the blind search', () => {
  it.each([0.2, 6.6, 11.3, 14.9])('finds slots that begin %d s into the audio', (phaseS) => {
    const shares: number[] = []
    const found = findSlotPhase(recording(phaseS, 8), (share) => shares.push(share))
    if (!found.found) throw new Error(found.why)
    expect(error(found.slotPhaseS, phaseS)).toBeLessThan(0.12)
    expect(error(found.slotPhaseS, phaseS)).toBeLessThan(found.uncertaintyS)
    expect(found.stations).toBeGreaterThanOrEqual(6)
    expect(shares.at(-1)).toBe(1)
    expect([...shares].sort((a, b) => a - b)).toEqual(shares)
  })
  it('is content with one station heard twice, and modest then', () => {
    const found = findSlotPhase(recording(1, 1, { snrDb: 0, seconds: 60 }))
    expect(found).toMatchObject({ found: true, stations: 1, uncertaintyS: 0.6 })
  })
  it('says that it found nothing in noise, and that there is too little', () => {
    expect(findSlotPhase(simulateSlot([], 5, { durationS: 45 }))).toMatchObject({ found: false, why: expect.stringMatching(/no message/) })
    expect(findSlotPhase(new Float32Array(10 * SAMPLE_RATE_HZ))).toMatchObject({
      found: false,
      why: expect.stringMatching(/10 s of audio are too little/),
    })
    expect(findSlotPhase(new Float32Array(45 * SAMPLE_RATE_HZ)).found).toBe(false)
  })
})

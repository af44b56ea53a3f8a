import { createRandom } from '@/core/dsp'
import { findSlotPhase } from '@/core/ft8'
import { estimateFromBand } from '@/core/time'
import { claimOfBand, claimOfMix, claimOfReceiver, claimOfServers, claimOfTaps, countClaims } from './clockClaims'
import { circularErrorS, drawCrowd, drawRecording, HOLDOVER_CASES, holdoverCoverage, simulateGps } from './benchClock'

// The promises of the clock on a few seeds; `zeptik bench clock` measures them on many.
describe('what the clock states of itself', () => {
  it.each([
    ['a receiver on a line', claimOfReceiver, 100],
    ['time servers, some of them lying', claimOfServers, 150],
    ['taps on a watch', claimOfTaps, 1500],
    ['a band with liars', claimOfBand, 1500],
    ['several sources, a minority lying', claimOfMix, 800],
  ] as const)('%s: holds the truth, or is doubted', (_, run, runs) => {
    const counted = countClaims(Array.from({ length: runs }, (_, seed) => run(40_000 + seed)))
    expect(counted.said).toBeGreaterThan(0.6 * runs)
    expect(counted.insideShare).toBeGreaterThan(0.94)
    expect(counted.far).toBe(0)
  })
})

describe('what the clock reaches', () => {
  it('GPS through 60 ms of jitter: under 20 ms after a minute, under 10 ms after five', () => {
    for (let seed = 1; seed <= 6; seed++) {
      const [minute, five] = simulateGps(seed, [60, 300])
      expect(minute).toBeLessThan(20)
      expect(five).toBeLessThan(10)
    }
  })

  it('a receiver with noise and bad checksums is no worse', () => {
    const [minute] = simulateGps(3, [60], new Set(['jitter', 'noise', 'badChecksums']))
    expect(minute).toBeLessThan(20)
  })

  it('the band: under 0.1 s from one slot and under 0.05 s from four, as root mean squares', () => {
    const random = createRandom(5)
    let one = 0
    let four = 0
    const trials = 150
    for (let trial = 0; trial < trials; trial++) {
      const slots = Array.from({ length: 4 }, () => drawCrowd(random, 8 + (trial % 13), 0.7))
      one += (estimateFromBand(slots[0]!)!.offsetMs - 700) ** 2
      four += (estimateFromBand(slots.flat())!.offsetMs - 700) ** 2
    }
    expect(Math.sqrt(one / trials)).toBeLessThan(100)
    expect(Math.sqrt(four / trials)).toBeLessThan(50)
  })

  it('blind: the phase of six and more stations within 0.1 s', () => {
    for (let seed = 1; seed <= 3; seed++) {
      const { samples, slotPhaseS } = drawRecording(seed, { stations: 5 + seed })
      const phase = findSlotPhase(samples)
      if (!phase.found) throw new Error(phase.why)
      expect(circularErrorS(phase.slotPhaseS, slotPhaseS)).toBeLessThan(0.1)
    }
  })

  it.each(HOLDOVER_CASES)('holdover: $name: the stated uncertainty holds, and is of use', (kase) => {
    for (const { covered, statedMs, hours } of holdoverCoverage(9, 60, kase)) {
      expect(covered).toBeGreaterThanOrEqual(55)
      expect(statedMs).toBeLessThan(150 + 150 * hours)
    }
  })
})

import { createGaussian, createRandom } from '../dsp/random'
import { estimateFromBand } from './bandClock'
import { otherParity, parityOf, slotIndexAt, slotStartUtcMs } from './slots'
import { correctTimebase, goodUntilUtcMs, monotonicAt, setTimebaseRate, startTimebase, uncertaintyAt, utcAt } from './timebase'

const noon = Date.UTC(2026, 5, 1, 12)

describe('slots', () => {
  it.each([
    [0, 'even'],
    [14_999, 'even'],
    [15_000, 'odd'],
    [30_000, 'even'],
    [45_000, 'odd'],
    [60_000, 'even'],
  ] as const)('%i ms after noon is in an %s slot', (ms, parity) => {
    const index = slotIndexAt(noon + ms, 15_000)
    expect(parityOf(index)).toBe(parity)
    expect(otherParity(otherParity(parity))).toBe(parity)
    expect(slotStartUtcMs(index, 15_000)).toBeLessThanOrEqual(noon + ms)
  })
})

describe('timebase', () => {
  const start = startTimebase(noon, 500)
  it('runs on the monotonic clock alone', () => {
    expect(utcAt(start, 1500)).toBe(noon + 1000)
    expect(monotonicAt(start, noon + 1000)).toBe(1500)
  })
  it('is moved by corrections and remembers their sum', () => {
    const later = correctTimebase(start, { byMs: 250, source: 'hand', uncertaintyMs: undefined }, 1500)
    const again = correctTimebase(later, { byMs: -50, source: 'band', uncertaintyMs: 40 }, 2500)
    expect(utcAt(again, 2500)).toBe(noon + 2200)
    expect(again).toMatchObject({ correctionMs: 200, source: 'band' })
    expect(() => correctTimebase(start, { byMs: Number.NaN, source: 'hand', uncertaintyMs: undefined }, 0)).toThrow(RangeError)
  })
  it('grows less certain with time and says until when it is good', () => {
    expect(uncertaintyAt(start, noon)).toBeUndefined()
    expect(goodUntilUtcMs(start, 500)).toBeUndefined()
    const set = correctTimebase(start, { byMs: 0, source: 'band', uncertaintyMs: 50 }, 500)
    const hour = uncertaintyAt(set, noon + 3_600_000)!
    expect(hour).toBeGreaterThan(50)
    const until = goodUntilUtcMs(set, 500)!
    expect(uncertaintyAt(set, until)).toBeCloseTo(500, 3)
  })
  it('can run fast, or stand still', () => {
    const fast = setTimebaseRate(start, 8, 500)
    expect(utcAt(fast, 1500)).toBe(noon + 8000)
    const held = setTimebaseRate(fast, 0, 1500)
    expect(utcAt(held, 99_999)).toBe(noon + 8000)
  })
})

describe('estimateFromBand', () => {
  it('says nothing from two stations', () => {
    expect(
      estimateFromBand([
        { call: 'Q1AA', timeOffsetS: 1, snrDb: 0 },
        { call: 'Q2BB', timeOffsetS: 1, snrDb: 0 },
      ]),
    ).toBeUndefined()
  })
  it('is not moved by stations that are far off, and names them', () => {
    const readings = [0.4, 0.45, 0.5, 0.55, 0.6, -1.9, 2.4].map((timeOffsetS, i) => ({ call: `Q${i}AB`, timeOffsetS, snrDb: -5 }))
    const estimate = estimateFromBand(readings)!
    expect(estimate.offsetMs).toBeCloseTo(500, -1)
    expect([...estimate.outliers].sort()).toEqual(['Q5AB', 'Q6AB'])
    expect(estimate.stations).toBe(7)
  })
  it('gives one station one voice however often it is heard', () => {
    const many = Array.from({ length: 20 }, () => ({ call: 'Q9ZZ', timeOffsetS: 2, snrDb: 5 }))
    const others = [0, 0.05, -0.05].map((timeOffsetS, i) => ({ call: `Q${i}AB`, timeOffsetS, snrDb: 5 }))
    expect(Math.abs(estimateFromBand([...many, ...others])!.offsetMs)).toBeLessThan(60)
  })
  it('covers the truth with its interval nineteen times in twenty or nearly', () => {
    let covered = 0
    for (let seed = 0; seed < 200; seed++) {
      const gaussian = createGaussian(createRandom(seed))
      const readings = Array.from({ length: 12 }, (_, i) => ({
        call: `Q1${String.fromCharCode(65 + i)}`,
        timeOffsetS: 0.3 + 0.2 * gaussian(),
        snrDb: -5,
      }))
      const estimate = estimateFromBand(readings)!
      if (Math.abs(estimate.offsetMs - 300) <= estimate.uncertaintyMs) covered++
    }
    expect(covered).toBeGreaterThan(170)
  })
})

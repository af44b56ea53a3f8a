import { createGaussian, createRandom } from '../dsp/random'
import { estimateFromTaps, measureReaction } from './watchTaps'

describe('taps on a watch', () => {
  const gaussian = createGaussian(createRandom(8))
  const taps = (offsetMs: number, count: number, unitMs: number, scatter: number) =>
    Array.from({ length: count }, (_, i) => 5_000_000 + i * unitMs - offsetMs + scatter * gaussian())

  it.each([
    ['second', 1000, 230],
    ['second', 1000, -410],
    ['minute', 60_000, 14_500],
    ['minute', 60_000, -29_000],
  ] as const)('on each whole %s find the clock %s %s ms off', (unit, unitMs, offset) => {
    // The believed offset is 0 and wrong by `offset`: taps fall on whole units of true time.
    const estimate = estimateFromTaps(taps(offset, 8, unitMs, 40), unit, 0)!
    // 5 000 000 ms is 20 s into a minute; the estimate is right modulo the unit.
    const expected = offset
    const wrapped = estimate.offsetMs - expected - Math.round((estimate.offsetMs - expected) / 1000) * 1000
    expect(Math.abs(wrapped)).toBeLessThan(60)
    expect(estimate.randomMs).toBeLessThan(120)
    expect(estimate.taps).toBe(8)
  })

  it('leave one wild tap out', () => {
    const good = taps(100, 7, 1000, 20)
    const estimate = estimateFromTaps([...good, good[6]! + 1480], 'second', 0)!
    expect(estimate.taps).toBe(7)
    expect(Math.abs(estimate.offsetMs - 100)).toBeLessThan(40)
  })

  it('are not split where seconds wrap', () => {
    expect(Math.abs(Math.abs(estimateFromTaps(taps(497, 9, 1000, 30), 'second', 0)!.offsetMs) - 497)).toBeLessThan(50)
  })

  it('say nothing from one tap, or from taps all over the place', () => {
    expect(estimateFromTaps([1000], 'second', 0)).toBeUndefined()
    expect(estimateFromTaps([0, 1300, 2610, 3900, 5250, 6700], 'second', 0)).toBeUndefined()
  })

  it('give an uncertainty that holds nineteen times in twenty or nearly', () => {
    let covered = 0
    for (let seed = 0; seed < 300; seed++) {
      const g = createGaussian(createRandom(seed))
      const list = Array.from({ length: 5 }, (_, i) => i * 1000 + 40 * g())
      const estimate = estimateFromTaps(list, 'second', 0)!
      if (Math.abs(estimate.offsetMs) <= estimate.randomMs) covered++
    }
    expect(covered).toBeGreaterThan(276)
  })

  it('measure how late a person is, or admit that there was no rhythm', () => {
    const late = Array.from({ length: 8 }, (_, i) => ({ beatMs: i * 1000, tapMs: i * 1000 + 85 + (i % 3) * 10 }))
    expect(measureReaction(late)!.biasMs).toBeCloseTo(95, -1)
    expect(measureReaction(late)!.uncertaintyMs).toBeLessThan(60)
    expect(measureReaction(late.slice(0, 3))).toBeUndefined()
    expect(measureReaction(late.map((t, i) => ({ ...t, tapMs: t.beatMs + (i % 2 ? 400 : -400) })))).toBeUndefined()
  })
})

import fc from 'fast-check'
import { lowerEnvelope } from './lowerEnvelope'

describe('lowerEnvelope', () => {
  it('needs a point', () => expect(() => lowerEnvelope([], 0, 0, 10)).toThrow(RangeError))

  it('finds the undisturbed line under jitter, slope and all', () => {
    const points = Array.from({ length: 300 }, (_, x) => ({ x, y: 5 + 0.02 * x + (x % 7 === 0 ? 0 : 3 + (x % 5)) }))
    const line = lowerEnvelope(points, 299, 0, 100)
    expect(line.slope).toBeCloseTo(0.02, 9)
    expect(line.y).toBeCloseTo(5 + 0.02 * 299, 9)
  })

  it('keeps to the known slope while the points span too little', () => {
    const points = [
      { x: 0, y: 10 },
      { x: 5, y: 8 },
      { x: 9, y: 12 },
    ]
    expect(lowerEnvelope(points, 10, 0.5, 100)).toEqual({ slope: 0.5, y: 10.5 })
  })

  it('never runs above a point', () => {
    const point = fc.record({ x: fc.integer({ min: 0, max: 1000 }), y: fc.double({ min: -50, max: 50, noNaN: true }) })
    fc.assert(
      fc.property(fc.array(point, { minLength: 1, maxLength: 60 }), fc.integer({ min: 0, max: 500 }), (raw, span) => {
        const points = [...raw].sort((a, b) => a.x - b.x)
        const line = lowerEnvelope(points, 0, 0.01, span)
        for (const p of points) expect(line.y + line.slope * p.x).toBeLessThanOrEqual(p.y + 1e-6)
      }),
      { seed: 11, numRuns: 300 },
    )
  })
})

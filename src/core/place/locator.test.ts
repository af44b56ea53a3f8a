import fc from 'fast-check'
import { formatLocator, greatCircle, isLocator, locatorToPosition, positionToLocator } from './locator'

describe('locators', () => {
  it('come back from the middle of their square', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -90, max: 90, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.constantFrom<4 | 6 | 8>(4, 6, 8),
        (latitudeDeg, longitudeDeg, length) => {
          const locator = positionToLocator({ latitudeDeg, longitudeDeg }, length)
          expect(isLocator(locator)).toBe(true)
          expect(positionToLocator(locatorToPosition(locator), length)).toBe(locator)
          const middle = locatorToPosition(locator)
          const [height, width] = { 4: [1, 2], 6: [1 / 24, 2 / 24], 8: [1 / 240, 2 / 240] }[length] as [number, number]
          expect(Math.abs(middle.latitudeDeg - latitudeDeg)).toBeLessThanOrEqual(height / 2 + 1e-6)
          expect(Math.abs(middle.longitudeDeg - longitudeDeg)).toBeLessThanOrEqual(width / 2 + 1e-6)
        },
      ),
      { seed: 4, numRuns: 300 },
    )
  })
  it('are written as is customary', () => expect(formatLocator('jn97LK')).toBe('JN97lk'))
  it.each(['JN9', 'SN97', 'JN97Z', 'JN97YK', '', 'JN97LK5'])('%p is none', (text) => {
    expect(isLocator(text)).toBe(false)
    expect(() => locatorToPosition(text)).toThrow(RangeError)
  })
  it('refuse a place off the earth', () => expect(() => positionToLocator({ latitudeDeg: 91, longitudeDeg: 0 }, 4)).toThrow(RangeError))
})

describe('greatCircle', () => {
  it('knows a quarter of the equator', () => {
    const { distanceKm, bearingDeg } = greatCircle({ latitudeDeg: 0, longitudeDeg: 0 }, { latitudeDeg: 0, longitudeDeg: 90 })
    expect(distanceKm).toBeCloseTo(10_007.5, 0)
    expect(bearingDeg).toBeCloseTo(90, 6)
  })
  it('points north, and is as long back as forth', () => {
    const a = { latitudeDeg: 47, longitudeDeg: 19 }
    const b = { latitudeDeg: 60, longitudeDeg: -70 }
    expect(greatCircle(a, { ...a, latitudeDeg: 50 }).bearingDeg).toBeCloseTo(0, 6)
    expect(greatCircle(a, b).distanceKm).toBeCloseTo(greatCircle(b, a).distanceKm, 6)
  })
})

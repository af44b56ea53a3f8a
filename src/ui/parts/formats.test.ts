import { formatAge, formatBearing, formatDistance, formatSigned, formatUtc, formatUtcDate, pathBetween } from './formats'

describe('formats', () => {
  it('write UTC', () => {
    expect(formatUtc(Date.UTC(2026, 5, 1, 4, 5, 6))).toBe('04:05:06')
    expect(formatUtcDate(Date.UTC(2026, 5, 1, 23, 59))).toBe('2026-06-01')
  })
  it.each([
    [500, 'now'],
    [30_000, '30 s ago'],
    [600_000, '10 min ago'],
    [7_200_000, '2 h ago'],
    [3 * 86_400_000, '3 days ago'],
  ])('%i ms is %s', (ms, words) => expect(formatAge(ms)).toBe(words))
  it('sign numbers with a real minus, and zero not at all', () => {
    expect([formatSigned(-3), formatSigned(4), formatSigned(-0.04, 1), formatSigned(0)]).toEqual(['−3', '+4', '0.0', '0'])
  })
  it('group thousands', () => {
    expect(formatDistance(14_807, 'km')).toBe('14\u202f810\u00a0km')
    expect(formatDistance(160.9, 'mi')).toBe('100\u00a0mi')
  })
  it('know a path only when both ends are known', () => {
    expect(pathBetween('JN97LK', undefined)).toBeUndefined()
    expect(pathBetween('', 'JO31')).toBeUndefined()
    expect(pathBetween('JN97LK', 'JO31')!.distanceKm).toBeGreaterThan(800)
  })
})

it.each([
  [0, '000°'],
  [7.4, '007°'],
  [283.2, '283°'],
  // North is not 360.
  [359.7, '000°'],
])('a bearing of %d is written %s', (bearing, words) => expect(formatBearing(bearing)).toBe(words))

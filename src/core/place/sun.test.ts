import { sunTimes } from './sun'

const minutesOff = (utcMs: number | undefined, iso: string) => Math.abs(utcMs! - Date.parse(iso)) / 60_000

describe('sunTimes', () => {
  // Published almanac times of cities.
  it.each([
    ['51.5 N 0.12 W at midsummer', 51.5, -0.12, '2024-06-20T12:00Z', '2024-06-20T03:43Z', '2024-06-20T20:21Z'],
    ['40.7 N 74 W at midwinter', 40.71, -74.0, '2024-12-21T17:00Z', '2024-12-21T12:17Z', '2024-12-21T21:32Z'],
    ['33.9 S 151.2 E at midsummer', -33.87, 151.2, '2024-12-21T02:00Z', '2024-12-20T18:41Z', '2024-12-21T09:05Z'],
  ])('%s, within three minutes', (_, latitudeDeg, longitudeDeg, at, rise, set) => {
    const sun = sunTimes({ latitudeDeg, longitudeDeg }, Date.parse(at))
    expect(minutesOff(sun.sunriseUtcMs, rise)).toBeLessThan(3)
    expect(minutesOff(sun.sunsetUtcMs, set)).toBeLessThan(3)
    expect(sun.civilDawnUtcMs!).toBeLessThan(sun.sunriseUtcMs!)
    expect(sun.civilDuskUtcMs!).toBeGreaterThan(sun.sunsetUtcMs!)
    expect(sun.allDay).toBeUndefined()
  })

  it('knows days without a night and nights without a day', () => {
    const north = { latitudeDeg: 69.65, longitudeDeg: 18.96 }
    expect(sunTimes(north, Date.parse('2026-06-21T12:00Z'))).toMatchObject({
      sunriseUtcMs: undefined,
      sunsetUtcMs: undefined,
      allDay: 'light',
    })
    const winter = sunTimes(north, Date.parse('2026-12-21T12:00Z'))
    expect(winter).toMatchObject({ sunriseUtcMs: undefined, allDay: 'dark' })
    expect(winter.civilDawnUtcMs).toBeDefined()
  })

  it('gives the day around any moment, all over the world', () => {
    for (let longitudeDeg = -180; longitudeDeg <= 180; longitudeDeg += 15) {
      for (let hour = 0; hour < 48; hour += 5) {
        const at = Date.parse('2026-03-20T00:00Z') + hour * 3_600_000
        const sun = sunTimes({ latitudeDeg: 10, longitudeDeg }, at)
        expect(Math.abs(sun.noonUtcMs - at)).toBeLessThanOrEqual(12.3 * 3_600_000)
        expect((sun.sunsetUtcMs! - sun.sunriseUtcMs!) / 3_600_000).toBeCloseTo(12.1, 0)
      }
    }
  })
})

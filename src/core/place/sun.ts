import type { Position } from './locator'

/** When the sun does what on one day at one place. */
export interface SunTimes {
  /** Undefined where the sun does not cross the horizon on that day. */
  sunriseUtcMs: number | undefined
  sunsetUtcMs: number | undefined
  /** The sun 6° below the horizon: before and after, a torch is needed. */
  civilDawnUtcMs: number | undefined
  civilDuskUtcMs: number | undefined
  noonUtcMs: number
  /** Set when it does not rise or set: always above, or always below the horizon. */
  allDay: 'light' | 'dark' | undefined
}

const DAY_MS = 86_400_000
const RAD = Math.PI / 180
/** The upper edge of the sun on the horizon, with the usual refraction. */
const RISE_DEG = -0.833
const CIVIL_DEG = -6

/**
 * Declination and equation of time by the low-precision formulas of the Astronomical Almanac (good to a minute or two
 * between the polar circles from 1950 to 2050).
 */
function sunAt(utcMs: number): { declinationDeg: number; equationMin: number } {
  const days = utcMs / DAY_MS - 10_957.5
  const meanLongitude = (280.46 + 0.9856474 * days) % 360
  const anomaly = ((357.528 + 0.9856003 * days) % 360) * RAD
  const longitude = (meanLongitude + 1.915 * Math.sin(anomaly) + 0.02 * Math.sin(2 * anomaly)) * RAD
  const obliquity = (23.439 - 0.0000004 * days) * RAD
  const ascension = Math.atan2(Math.cos(obliquity) * Math.sin(longitude), Math.cos(longitude)) / RAD
  const difference = ((meanLongitude - ascension + 540) % 360) - 180
  return { declinationDeg: Math.asin(Math.sin(obliquity) * Math.sin(longitude)) / RAD, equationMin: 4 * ((difference + 540) % 360) - 720 }
}

/**
 * Computes the sun's day at a place.
 * @param utcMs any moment; the day is the one whose local solar noon is nearest to it
 */
export function sunTimes({ latitudeDeg, longitudeDeg }: Position, utcMs: number): SunTimes {
  const offsetMs = (longitudeDeg / 360) * DAY_MS
  const meanNoon = Math.round((utcMs + offsetMs) / DAY_MS - 0.5) * DAY_MS + DAY_MS / 2 - offsetMs
  const noonUtcMs = meanNoon - sunAt(meanNoon).equationMin * 60_000
  const crossing = (altitudeDeg: number, side: -1 | 1): number | undefined => {
    let at = noonUtcMs
    // The declination changes over the day: at the second look it is that of the crossing itself.
    for (let look = 0; look < 3; look++) {
      const { declinationDeg, equationMin } = sunAt(at)
      const cosine =
        (Math.sin(altitudeDeg * RAD) - Math.sin(latitudeDeg * RAD) * Math.sin(declinationDeg * RAD)) /
        (Math.cos(latitudeDeg * RAD) * Math.cos(declinationDeg * RAD))
      if (cosine < -1 || cosine > 1) return undefined
      at = meanNoon - equationMin * 60_000 + side * (Math.acos(cosine) / RAD / 360) * DAY_MS
    }
    return at
  }
  const sunriseUtcMs = crossing(RISE_DEG, -1)
  const noonHeightDeg = 90 - Math.abs(latitudeDeg - sunAt(noonUtcMs).declinationDeg)
  return {
    sunriseUtcMs,
    sunsetUtcMs: crossing(RISE_DEG, 1),
    civilDawnUtcMs: crossing(CIVIL_DEG, -1),
    civilDuskUtcMs: crossing(CIVIL_DEG, 1),
    noonUtcMs,
    allDay: sunriseUtcMs !== undefined ? undefined : noonHeightDeg > 0 ? 'light' : 'dark',
  }
}

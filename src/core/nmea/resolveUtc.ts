const DAY_MS = 86_400_000

/**
 * Puts a date to a time of day: the one that brings it nearest to a time that is about right, also across midnight.
 * @param timeOfDayMs milliseconds since midnight
 * @param aboutUtcMs right to within half a day
 */
export function resolveUtc(timeOfDayMs: number, aboutUtcMs: number): number {
  const days = Math.round((aboutUtcMs - timeOfDayMs) / DAY_MS)
  return days * DAY_MS + timeOfDayMs
}

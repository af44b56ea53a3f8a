/** How far a zone is ahead of UTC at an instant, ms. */
function aheadMs(format: Intl.DateTimeFormat, utcMs: number): number {
  const parts = new Map(format.formatToParts(utcMs).map(({ type, value }) => [type, Number(value)]))
  const at = (type: Intl.DateTimeFormatPartTypes) => parts.get(type)!
  return Date.UTC(at('year'), at('month') - 1, at('day'), at('hour'), at('minute'), at('second')) - utcMs
}

/**
 * UTC of a clock on the wall of a named zone (IANA time zone database).
 * @param wallMs what the clock shows, as if it were UTC; a time that a clock change leaves out is taken as if it had not changed yet
 * @returns undefined when there is no zone of that name
 */
export function utcOfWallClock(wallMs: number, zone: string): number | undefined {
  let format: Intl.DateTimeFormat
  try {
    format = new Intl.DateTimeFormat('en-US', {
      ...{ timeZone: zone, calendar: 'gregory', numberingSystem: 'latn', hourCycle: 'h23' },
      ...{ year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric', second: 'numeric' },
    })
  } catch {
    return undefined
  }
  // The offset as it is before any change near this time, and as it is after: the first that shows the time wanted.
  const offsets = [wallMs - 86_400_000, wallMs + 86_400_000].map((ms) => aheadMs(format, ms))
  return offsets.map((ahead) => wallMs - ahead).find((utcMs) => utcMs + aheadMs(format, utcMs) === wallMs) ?? wallMs - offsets[0]!
}

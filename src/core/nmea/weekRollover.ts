/** GPS counts weeks in ten bits: 1024 of them, 19.6 years, after which an old receiver starts again. */
export const ROLLOVER_MS = 1024 * 7 * 86_400_000

export interface RolledOver {
  utcMs: number
  /** How many times 1024 weeks were added; 0 when the date was possible as sent. */
  rollovers: number
}

/**
 * Recognises a date that is too early by exactly a multiple of 1024 weeks.
 * @param notBeforeUtcMs earlier dates cannot be true
 * @param notAfterUtcMs a corrected date beyond this was no rollover
 * @returns undefined when the date is impossible and no rollover explains it
 */
export function correctRollover(utcMs: number, notBeforeUtcMs: number, notAfterUtcMs = Infinity): RolledOver | undefined {
  if (utcMs >= notBeforeUtcMs) return { utcMs, rollovers: 0 }
  const rollovers = Math.ceil((notBeforeUtcMs - utcMs) / ROLLOVER_MS)
  const corrected = utcMs + rollovers * ROLLOVER_MS
  return corrected <= notAfterUtcMs ? { utcMs: corrected, rollovers } : undefined
}

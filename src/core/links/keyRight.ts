/** Who holds the key of the radio, and since when. Instants are on one monotonic clock. Plain data. */
export interface KeyRight {
  held?: { id: string; sinceMs: number; aliveMs: number; longestMs: number }
  /** When the radio was keyed first without a real pause since, whoever held it. */
  unbrokenSinceMs?: number
  endedMs?: number
}

/** Without a sign of life of whoever holds the key for this long, nothing stays keyed. */
export const WATCHDOG_MS = 2000
/** Nothing is keyed for longer that does not say how long it lasts, whatever says it is alive and under however many names. */
export const LONGEST_KEYED_MS = 16_000
/** The longest that may be asked for: what the gate lets through at most. */
export const LONGEST_ASKED_MS = 180_000
/** A key comes before the audio and goes after it. */
const AROUND_MS = 1000
/** A shorter pause is none: the radio counts as keyed all along. */
const LEAST_PAUSE_MS = 1000

export type KeyRightResult = { ok: true; right: KeyRight } | { ok: false; error: string }

/**
 * Asks for the key. There is one holder: nobody takes it from another who is alive.
 * @param askedMs how long the transmission lasts at most
 */
export function takeKey(right: KeyRight, id: string, nowMs: number, askedMs = LONGEST_KEYED_MS - AROUND_MS): KeyRightResult {
  const longestMs = Math.min(LONGEST_ASKED_MS, askedMs) + AROUND_MS
  if (right.held && right.held.id !== id)
    return { ok: false, error: 'Another transmission holds the key: end that one first, with Silence if need be.' }
  const paused = right.held === undefined && nowMs - (right.endedMs ?? -Infinity) >= LEAST_PAUSE_MS
  const unbrokenSinceMs = paused ? nowMs : (right.unbrokenSinceMs ?? nowMs)
  const limitMs = Math.max(longestMs, LONGEST_KEYED_MS)
  if (nowMs - unbrokenSinceMs >= limitMs - LEAST_PAUSE_MS)
    return {
      ok: false,
      error: `The radio has been keyed for ${Math.round(limitMs / 1000)} s nearly without a pause: let it rest for a second.`,
    }
  return { ok: true, right: { held: { id, sinceMs: nowMs, aliveMs: nowMs, longestMs: limitMs }, unbrokenSinceMs } }
}

/** A sign of life; only the holder's counts. */
export function stillAlive(right: KeyRight, id: string, nowMs: number): KeyRight | undefined {
  return right.held?.id === id ? { ...right, held: { ...right.held, aliveMs: nowMs } } : undefined
}

/** Gives the key up, whoever held it: anybody may end a transmission. */
export function dropKey(right: KeyRight, nowMs: number): KeyRight {
  if (!right.held) return right
  return { endedMs: nowMs, ...(right.unbrokenSinceMs !== undefined && { unbrokenSinceMs: right.unbrokenSinceMs }) }
}

/** Why the key must be given up now; undefined while it need not. */
export function keyRightEnded({ held, unbrokenSinceMs = Infinity }: KeyRight, nowMs: number): 'away' | 'tooLong' | undefined {
  if (!held) return undefined
  if (nowMs - held.aliveMs > WATCHDOG_MS) return 'away'
  return nowMs - unbrokenSinceMs > held.longestMs ? 'tooLong' : undefined
}

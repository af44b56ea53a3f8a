/** Who holds the key of the radio, and since when. Instants are on one monotonic clock. Plain data. */
export interface KeyRight {
  held?: { id: string; sinceMs: number; aliveMs: number }
  /** When the radio was keyed first without a real pause since, whoever held it. */
  unbrokenSinceMs?: number
  endedMs?: number
}

/** Without a sign of life of whoever holds the key for this long, nothing stays keyed. */
export const WATCHDOG_MS = 2000
/** Nothing is keyed for longer, whatever says it is alive and under however many names. */
export const LONGEST_KEYED_MS = 16_000
/** A shorter pause is none: the radio counts as keyed all along. */
const LEAST_PAUSE_MS = 1000

export type KeyRightResult = { ok: true; right: KeyRight } | { ok: false; error: string }

/** Asks for the key. There is one holder: nobody takes it from another who is alive. */
export function takeKey(right: KeyRight, id: string, nowMs: number): KeyRightResult {
  if (right.held && right.held.id !== id)
    return { ok: false, error: 'Another transmission holds the key: end that one first, with Silence if need be.' }
  const paused = right.held === undefined && nowMs - (right.endedMs ?? -Infinity) >= LEAST_PAUSE_MS
  const unbrokenSinceMs = paused ? nowMs : (right.unbrokenSinceMs ?? nowMs)
  if (nowMs - unbrokenSinceMs >= LONGEST_KEYED_MS - LEAST_PAUSE_MS)
    return {
      ok: false,
      error: `The radio has been keyed for ${LONGEST_KEYED_MS / 1000} s nearly without a pause: let it rest for a second.`,
    }
  return { ok: true, right: { held: { id, sinceMs: nowMs, aliveMs: nowMs }, unbrokenSinceMs } }
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
  return nowMs - unbrokenSinceMs > LONGEST_KEYED_MS ? 'tooLong' : undefined
}

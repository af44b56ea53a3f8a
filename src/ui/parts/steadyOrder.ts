/** How a list stands still under a hand: pure, so that it can be tried with made-up hands. */
export interface Steady {
  /** What is shown, in this order. */
  keys: readonly string[]
  /** Whether it would be in another order by now. */
  waits: boolean
  /** When it was last put into another order. */
  sortedMs: number
  /** Rows that are elsewhere since then. */
  moved: readonly string[]
}

/** Without a touch, a movement or a key for so long, the hand pauses. */
export const PAUSE_MS = 3000
/** Between two orders something can be aimed at. */
export const REST_MS = 8000
/** A tap so soon after a row came was aimed at what stood there before. */
export const BLIND_MS = 700

export const nothingSteady: Steady = { keys: [], waits: false, sortedMs: -Infinity, moved: [] }

/**
 * What is shown next. New rows come after the others, so that nothing is pushed; what is gone goes. The order changes only
 * when the hand pauses and the list has rested, or when it is asked for.
 * @param wanted all rows in the order that would be right now
 */
export function settle(before: Steady, wanted: readonly string[], at: { nowMs: number; handMs: number; asked?: boolean }): Steady {
  const { nowMs, handMs, asked = false } = at
  const free = nowMs - handMs >= PAUSE_MS && nowMs - before.sortedMs >= REST_MS
  const present = new Set(wanted)
  const known = new Set(before.keys)
  const kept = before.keys.filter((key) => present.has(key))
  const standing = [...kept, ...wanted.filter((key) => !known.has(key))]
  const same = standing.every((key, i) => key === wanted[i])
  if (same || (!asked && !free && kept.length > 0)) {
    // Those below one that is gone have moved too.
    const firstGone = before.keys.findIndex((key) => !present.has(key))
    if (firstGone < 0 || firstGone >= kept.length) return { ...before, keys: standing, waits: !same }
    return { ...before, keys: standing, waits: !same, sortedMs: nowMs, moved: kept.slice(firstGone) }
  }
  const moved = wanted.filter((key, i) => known.has(key) && before.keys[i] !== key)
  // The first filling of a list moves nothing.
  return { keys: wanted, waits: false, sortedMs: kept.length === 0 ? before.sortedMs : nowMs, moved }
}

/** Whether a tap on a row is to be obeyed. */
export const isAimed = ({ sortedMs, moved }: Steady, key: string, nowMs: number): boolean =>
  nowMs - sortedMs >= BLIND_MS || !moved.includes(key)

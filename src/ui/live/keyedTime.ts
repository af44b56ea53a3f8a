import { z } from 'zod'

const KEY = 'zeptik-keyed'
const KEPT_MS = 4 * 86_400_000
const listSchema = z.array(z.tuple([z.number(), z.number()])).max(50_000)

function load(): [number, number][] {
  try {
    return listSchema.safeParse(JSON.parse(localStorage.getItem(KEY) ?? '[]')).data ?? []
  } catch {
    return []
  }
}

/** Notes that the station was on the air, for the power budget; kept by the browser for four days. */
export function noteKeyed(endUtcMs: number, keyedMs: number): void {
  const kept = load().filter(([utcMs]) => endUtcMs - utcMs < KEPT_MS)
  try {
    localStorage.setItem(KEY, JSON.stringify([...kept, [Math.round(endUtcMs), Math.round(keyedMs)]]))
  } catch {
    // A browser that keeps nothing: the budget then goes by the mode's usual duty.
  }
}

/** For how long the station was on the air since a moment. */
export function keyedSince(utcMs: number): number {
  return load().reduce((sum, [end, ms]) => sum + (end > utcMs ? Math.min(ms, end - utcMs) : 0), 0)
}

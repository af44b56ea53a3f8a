import { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'

const KEPT_MS = 4 * 86_400_000
const listSchema = z.array(z.tuple([z.number(), z.number()])).max(50_000)

/** A browser that keeps nothing: the budget then goes by the mode's usual duty. */
const store = localStore<[number, number][]>('zeptik-keyed', listSchema, [])

/** Notes that the station was on the air, for the power budget; kept by the browser for four days. */
export function noteKeyed(endUtcMs: number, keyedMs: number): void {
  const kept = store.load().filter(([utcMs]) => endUtcMs - utcMs < KEPT_MS)
  store.save([...kept, [Math.round(endUtcMs), Math.round(keyedMs)]])
}

/** For how long the station was on the air since a moment. */
export function keyedSince(utcMs: number): number {
  return store.load().reduce((sum, [end, ms]) => sum + (end > utcMs ? Math.min(ms, end - utcMs) : 0), 0)
}

import { z } from 'zod'
import type { Drift } from '@/core/time'

const KEY = 'zeptik-drift'
const driftSchema = z.object({
  ppm: z.number().min(-500).max(500),
  uncertaintyPpm: z.number().positive().max(500),
  wanderPpm: z.number().positive().max(500),
})

/** What was learned of this device's crystal, kept by the browser: it belongs to the device, not to the log. */
export const browserDriftStore = {
  load(): Drift | undefined {
    try {
      return driftSchema.safeParse(JSON.parse(localStorage.getItem(KEY) ?? 'null')).data
    } catch {
      return undefined
    }
  },
  save(drift: Drift): void {
    try {
      localStorage.setItem(KEY, JSON.stringify(drift))
    } catch {
      // A browser that keeps nothing learns anew each time.
    }
  },
}

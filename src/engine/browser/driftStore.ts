import { z } from 'zod'
import type { Drift } from '@/core/time'
import { localStore } from './localStore'

const driftSchema = z.object({
  ppm: z.number().min(-500).max(500),
  uncertaintyPpm: z.number().positive().max(500),
  wanderPpm: z.number().positive().max(500),
})

/** What was learned of this device's crystal. A browser that keeps nothing learns anew each time. */
export const browserDriftStore = localStore<Drift | undefined>('zeptik-drift', driftSchema, undefined)

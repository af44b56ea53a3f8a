import { z } from 'zod'
import { FINDING_CODES } from '../audio/findings'

const level = z.number().finite().min(-300).max(100)

/** One point of the history of levels. */
export const levelHistorySchema = z.object({
  id: z.uuid(),
  utcMs: z.number().finite(),
  deviceLabel: z.string().max(200),
  noise2500Dbfs: level,
  headroomDb: level,
  /** What cost most then; null when nothing did. */
  worst: z.enum(FINDING_CODES).nullable(),
})
export type LevelHistoryEntry = z.infer<typeof levelHistorySchema>

export const levelHistoryBatchSchema = z.array(levelHistorySchema).max(500)

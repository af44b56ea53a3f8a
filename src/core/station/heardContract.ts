import { z } from 'zod'

/** One decode as it is sent to be kept. */
const heardReportSchema = z.object({
  id: z.uuid(),
  slotUtcMs: z.number().finite(),
  mode: z.literal('FT8'),
  source: z.enum(['microphone', 'recording', 'practice']),
  text: z.string().max(60),
  call: z.string().max(15).nullable(),
  snrDb: z.number().finite(),
  timeOffsetS: z.number().finite(),
  audioOffsetHz: z.number().finite(),
  dialFrequencyHz: z.number().finite().nullable(),
  clockUncertaintyMs: z.number().finite().nullable(),
  pass: z.int().min(1).max(9),
})
export type HeardReport = z.infer<typeof heardReportSchema>

export const heardBatchSchema = z.array(heardReportSchema).max(500)

import { z } from 'zod'

/** A station as it was heard over a stretch of time, for the map. */
export const heardSummarySchema = z.object({
  call: z.string(),
  locator: z.string(),
  lastUtcMs: z.number(),
  lastSnrDb: z.number().nullable(),
  times: z.int(),
})
export type HeardSummary = z.infer<typeof heardSummarySchema>

/** What the map asks for. */
export const heardQuerySchema = z.object({
  from: z.coerce.number().finite(),
  practice: z
    .enum(['true', 'false'])
    .default('false')
    .transform((text) => text === 'true'),
})
export type HeardQuery = z.infer<typeof heardQuerySchema>

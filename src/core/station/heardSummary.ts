import { z } from 'zod'
import { storable } from '../log'

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

/** Something heard, as it is found again by a word or a call. */
export const heardTextSchema = z.object({
  mode: z.string(),
  startUtcMs: z.number(),
  text: z.string(),
  call: z.string().nullable(),
  snrDb: z.number().nullable(),
  audioOffsetHz: z.number().nullable(),
})
export type HeardText = z.infer<typeof heardTextSchema>

/** What is looked for in all that was heard. */
export const heardTextQuerySchema = heardQuerySchema.extend({
  from: z.coerce.number().finite().default(0),
  mode: z.string().max(20),
  /** Part of the text or of the call; all of it when there is none. */
  words: z.string().overwrite(storable).trim().max(60).default(''),
  as: z.enum(['list', 'file']).default('list'),
})
export type HeardTextQuery = z.infer<typeof heardTextQuerySchema>

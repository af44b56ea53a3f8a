import { z } from 'zod'
import { CALLER_ORDERS } from './callerQueue'
import { DEPTHS } from './depth'

/** What the operator chooses for FT8. */
export const ft8SettingsSchema = z.object({
  finish: z.enum(['RR73', 'RRR']).default('RR73'),
  maxTries: z.number().int().min(1).max(20).default(6),
  maxCqTries: z.number().int().min(1).max(60).default(12),
  /** How often CQ is called again by itself after a contact. */
  cqAgain: z.number().int().min(0).max(20).default(0),
  /** What is said first to a station that calls CQ. */
  opening: z.enum(['locator', 'report']).default('locator'),
  /** Who is taken first of several that call. */
  callerOrder: z.enum(CALLER_ORDERS).default('strongest'),
  /** Decoding depth. */
  depth: z.enum(DEPTHS).default('usual'),
  cqWord: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^([A-Z]{1,4}|\d{3})?$/, 'One to four letters, or three digits')
    .default(''),
})
export type Ft8Settings = z.infer<typeof ft8SettingsSchema>

/** What is kept of a decode beyond what is kept of anything heard. */
export const ft8DetailsSchema = z.object({
  /** Against the nominal start of its slot, in seconds. */
  timeOffsetS: z.number().finite(),
  /** The pass that found it; absent in records of older versions. */
  pass: z.int().min(1).max(9).optional(),
})

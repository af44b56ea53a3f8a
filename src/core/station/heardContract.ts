import { z } from 'zod'
import { MODES } from '../modes'
import { MODE_IDS } from '../modes/modeId'

/** One thing heard, in whatever mode, as it is sent to be kept. */
export const heardReportSchema = z
  .object({
    id: z.uuid(),
    mode: z.enum(MODE_IDS),
    source: z.enum(['microphone', 'recording', 'practice']),
    startUtcMs: z.number().finite(),
    endUtcMs: z.number().finite(),
    text: z.string().max(2000),
    call: z.string().max(15).nullable(),
    locator: z
      .string()
      .regex(/^[A-R]{2}\d{2}([A-X]{2})?$/, 'a locator is 4 or 6 characters')
      .nullable(),
    snrDb: z.number().finite().nullable(),
    /** Where it is by its own words, when these are more exact than a locator. */
    place: z.object({ latitudeDeg: z.number().min(-90).max(90), longitudeDeg: z.number().min(-180).max(180) }).nullable(),
    audioOffsetHz: z.number().finite().nullable(),
    dialFrequencyHz: z.number().finite().nullable(),
    clockUncertaintyMs: z.number().finite().nullable(),
    /** What its mode keeps beside. */
    details: z.record(z.string().max(40), z.unknown()),
  })
  .superRefine(({ mode, details, startUtcMs, endUtcMs }, context) => {
    const told = MODES[mode].details.safeParse(details)
    if (!told.success)
      context.addIssue({ code: 'custom', path: ['details'], message: `${MODES[mode].name}: ${told.error.issues[0]!.message}` })
    if (endUtcMs < startUtcMs) context.addIssue({ code: 'custom', path: ['endUtcMs'], message: 'it ends before it begins' })
  })
export type HeardReport = z.infer<typeof heardReportSchema>

export const heardBatchSchema = z.array(heardReportSchema).max(500)

import { z } from 'zod'

const words = (longest: number) => z.string().trim().max(longest)

/** A station set up at a place that counts in some programme, for a number of contacts. */
export const activationSchema = z.object({
  id: z.uuid(),
  /** What the place is called. */
  name: words(80),
  /** Short name of the programme, as it stands in ADIF's MY_SIG; may be empty. */
  programme: words(20).toUpperCase(),
  /** The place's own reference in it, as in MY_SIG_INFO; may be empty. */
  reference: words(40).toUpperCase(),
  goal: z
    .int('The goal is a whole number of contacts')
    .min(1, 'The goal is at least one contact')
    .max(10_000, 'The goal is at most 10 000 contacts'),
  startedUtcMs: z.number().finite(),
  endedUtcMs: z.number().finite().nullable(),
  /** Practice and air never count together. */
  practice: z.boolean(),
})
export type Activation = z.infer<typeof activationSchema>

/** The one that is running, and those that were. */
export const activationsSchema = z.object({
  current: activationSchema.nullable().default(null),
  past: z.array(activationSchema).max(100).default([]),
})
export type Activations = z.infer<typeof activationsSchema>

/** A contact as an activation counts it. */
export const countedContactSchema = z.object({
  id: z.uuid(),
  revision: z.int(),
  call: z.string(),
  band: z.string().nullable(),
  mode: z.string(),
  locator: z.string().nullable(),
  startedUtcMs: z.number(),
  endedUtcMs: z.number(),
  otherReference: z.string().nullable(),
  /** Transmissions and receptions that it rests on. */
  transmissions: z.int(),
  /** Time errors of what was heard of it. */
  timeOffsetS: z.number().nullable(),
})
export type CountedContact = z.infer<typeof countedContactSchema>

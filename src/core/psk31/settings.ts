import { z } from 'zod'

/** A phrase that the operator keeps at hand. Words in braces are filled in from what is known. */
const phraseSchema = z.object({
  label: z.string().trim().min(1, 'A phrase needs a name').max(20),
  text: z.string().trim().min(1, 'A phrase needs words').max(400),
})
export type Phrase = z.infer<typeof phraseSchema>

/** What the operator chooses for PSK31. */
export const psk31SettingsSchema = z.object({
  /** Reports by readability, strength and tone, or by readability in per cent, strength and quality. */
  reports: z.enum(['rst', 'rsq']).default('rst'),
  /** Phrases of one's own, after those that are always there. */
  phrases: z.array(phraseSchema).max(12).default([]),
  /** Radio, power and antenna, as they are told on the air. */
  gear: z.string().trim().max(80).default(''),
  /** How often the own call must go out, in minutes, by the rules where one is. */
  identifyEveryMin: z.int('Minutes are a whole number').min(1, 'At least one minute').max(60, 'At most 60 minutes').default(10),
  /** Pause after a CQ, and how many are called before it waits for the operator. */
  cqPauseS: z.int('A pause is a whole number of seconds').min(3, 'A pause of 3 s at least').max(60, 'A pause of 60 s at most').default(10),
  cqTries: z.int('Calls are a whole number').min(1, 'At least one call').max(10, 'At most ten calls').default(3),
  /** Without a licence or a transmitter: no controls for sending stand in the way. */
  listenOnly: z.boolean().default(false),
})
export type Psk31Settings = z.infer<typeof psk31SettingsSchema>

/** What is kept of a stretch of text beyond what is kept of anything heard. */
export const psk31DetailsSchema = z.object({ channel: z.int().min(1), baud: z.number().min(1).max(1000).optional() })

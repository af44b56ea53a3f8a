import { z } from 'zod'
import { CALLER_ORDERS } from '../ft8/callerQueue'
import { DEPTHS } from '../ft8/depth'
import { isLocator } from '../place/locator'

const words = (longest: number) => z.string().trim().max(longest)

/** Who operates from where with what. An empty text means "not told yet". */
export const stationSchema = z.object({
  call: z
    .string()
    .trim()
    .toUpperCase()
    .refine(
      (call) => call === '' || (/^[0-9A-Z/]{3,11}$/.test(call) && /[A-Z]/.test(call) && /\d/.test(call)),
      'A call is 3 to 11 letters, digits and / with at least one of each',
    ),
  operatorName: words(60),
  locator: z
    .string()
    .trim()
    .toUpperCase()
    .refine((locator) => locator === '' || isLocator(locator), 'A locator is 4, 6 or 8 characters such as JN97LK'),
  place: words(100),
  radio: words(60),
  interfaceName: words(60),
  antenna: words(100),
  powerW: z
    .number('Power is a number of watts')
    .min(0, 'Power cannot be negative')
    .max(2000, 'More than 2000 W is not accepted')
    .nullable(),
  /** When the operator confirmed to hold a licence for what this station does; null when not. */
  licenceConfirmedUtcMs: z.number().finite().nullable(),
  dialFrequencyHz: z.number().int().positive().max(1e11).nullable(),
  /** When the dial was last said to be set so. */
  dialSetUtcMs: z.number().finite().nullable(),
  /** Silence sent before the first symbol so that a VOX has tripped by then. */
  voxLeadInMs: z.number().int().min(0).max(450),
  /** Peak of the transmitted audio, share of full scale. */
  transmitLevel: z.number().min(0.01).max(1),
  finish: z.enum(['RR73', 'RRR']),
  maxTries: z.number().int().min(1).max(20),
  maxCqTries: z.number().int().min(1).max(60),
  /** What is said first to a station that calls CQ. */
  opening: z.enum(['locator', 'report']).default('locator'),
  /** Who is taken first of several that call. */
  callerOrder: z.enum(CALLER_ORDERS).default('strongest'),
  /** How hard the decoder looks. */
  depth: z.enum(DEPTHS).default('usual'),
  cqWord: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^([A-Z]{1,4}|\d{3})?$/, 'One to four letters, or three digits'),
})
export type Station = z.infer<typeof stationSchema>

export const emptyStation: Station = {
  call: '',
  operatorName: '',
  locator: '',
  place: '',
  radio: '',
  interfaceName: '',
  antenna: '',
  powerW: null,
  licenceConfirmedUtcMs: null,
  dialFrequencyHz: null,
  dialSetUtcMs: null,
  voxLeadInMs: 0,
  transmitLevel: 0.5,
  finish: 'RR73',
  maxTries: 6,
  maxCqTries: 12,
  opening: 'locator',
  callerOrder: 'strongest',
  depth: 'usual',
  cqWord: '',
}

/** How the screens look and count. */
export const settingsSchema = z.object({
  theme: z.enum(['day', 'night', 'auto']),
  distanceUnit: z.enum(['km', 'mi']),
})
export type Settings = z.infer<typeof settingsSchema>

export const defaultSettings: Settings = { theme: 'day', distanceUnit: 'km' }

/** What the server gives a screen to start with. */
export const profileSchema = z.object({ station: stationSchema, settings: settingsSchema, demo: z.boolean() })
export type Profile = z.infer<typeof profileSchema>

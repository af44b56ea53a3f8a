import { z } from 'zod'
import { ft8SettingsSchema } from '../ft8/settings'
import { FIRST_MODE_IDS, MODE_IDS, type ModeId } from '../modes/modeId'
import { packetSettingsSchema } from '../packet/settings'
import { isLocator } from '../place/locator'
import { psk31SettingsSchema } from '../psk31/settings'

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
  /** What the operator chooses for each mode. */
  modes: z.object({ ft8: ft8SettingsSchema, psk31: psk31SettingsSchema, packet: packetSettingsSchema } satisfies Record<ModeId, z.ZodType>),
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
  modes: { ft8: ft8SettingsSchema.parse({}), psk31: psk31SettingsSchema.parse({}), packet: packetSettingsSchema.parse({}) },
}

/**
 * The station as it was stored: what it lacks is taken from an empty one, and what versions before the modes had declarations of
 * their own kept beside the rest goes to FT8.
 */
export function openStation(stored: unknown): Station {
  const kept = (typeof stored === 'object' && stored !== null ? stored : {}) as Record<string, unknown>
  const modes = (typeof kept.modes === 'object' && kept.modes !== null ? kept.modes : { ft8: kept }) as Record<string, unknown>
  // What a mode can no longer read costs that mode's settings, and not the call.
  const settings = MODE_IDS.map((id) => [id, stationSchema.shape.modes.shape[id].safeParse(modes[id] ?? {}).data ?? emptyStation.modes[id]])
  const parsed = stationSchema.safeParse({ ...emptyStation, ...kept, modes: Object.fromEntries(settings) })
  return parsed.success ? parsed.data : emptyStation
}

/** How the screens look and count. */
export const settingsSchema = z.object({
  theme: z.enum(['day', 'night', 'auto']),
  distanceUnit: z.enum(['km', 'mi']),
  /** Modes that the operator uses: only these are shown. */
  modes: z
    .array(z.enum(MODE_IDS))
    .min(1, 'One mode at least')
    .default([...FIRST_MODE_IDS]),
})
export type Settings = z.infer<typeof settingsSchema>

export const defaultSettings: Settings = { theme: 'day', distanceUnit: 'km', modes: [...FIRST_MODE_IDS] }

/** What the server gives a screen to start with. */
export const profileSchema = z.object({ station: stationSchema, settings: settingsSchema, demo: z.boolean() })
export type Profile = z.infer<typeof profileSchema>

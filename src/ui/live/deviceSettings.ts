'use client'
import { z } from 'zod'
import { deviceStore } from './deviceStore'

const schema = z.object({
  /** The screen stays on while the station listens. */
  awake: z.boolean().default(true),
  textSize: z.enum(['usual', 'large', 'largest']).default('usual'),
  sounds: z.boolean().default(false),
  /** Where sounds go: never where the radio's audio goes. */
  soundsTo: z.string().max(300).default(''),
  vibration: z.boolean().default(false),
  notifications: z.boolean().default(false),
})
/** What belongs to this tablet or laptop, and not to the station. */
export type DeviceSettings = z.infer<typeof schema>
const initial: DeviceSettings = schema.parse({})

export const { use: useDeviceSettings, save: saveDeviceSettings } = deviceStore<DeviceSettings>(
  'zeptik.device',
  schema as z.ZodType<DeviceSettings>,
  initial,
)

export const ZOOM: Record<DeviceSettings['textSize'], number> = { usual: 1, large: 1.15, largest: 1.35 }

'use client'
import { useSyncExternalStore } from 'react'
import { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'

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

const store = localStore<DeviceSettings>('zeptik.device', schema as z.ZodType<DeviceSettings>, initial)
let current: DeviceSettings | undefined
const listeners = new Set<() => void>()

const read = (): DeviceSettings => (current ??= store.load())

export function saveDeviceSettings(change: Partial<DeviceSettings>): void {
  current = { ...read(), ...change }
  store.save(current)
  listeners.forEach((listener) => listener())
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

export function useDeviceSettings(): DeviceSettings {
  return useSyncExternalStore(subscribe, read, () => initial)
}

export const ZOOM: Record<DeviceSettings['textSize'], number> = { usual: 1, large: 1.15, largest: 1.35 }

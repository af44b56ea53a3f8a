import { z } from 'zod'
import { localStore } from './localStore'

/** No sound device is further off than this; more would be a measurement gone wrong. */
const LARGEST_DELAY_MS = 1000
const store = localStore<Record<string, number>>('zeptik.outputDelayMs', z.record(z.string(), z.number()), {})

/** The measured delay of an output beyond what it announces, ms. It belongs to this browser and device. */
export function readOutputDelayMs(deviceId: string | undefined): number {
  const delayMs = store.load()[deviceId ?? '']
  return typeof delayMs === 'number' && Math.abs(delayMs) <= LARGEST_DELAY_MS ? delayMs : 0
}

/** @returns whether it could be kept */
export function saveOutputDelayMs(deviceId: string | undefined, delayMs: number): boolean {
  return store.save({ ...store.load(), [deviceId ?? '']: delayMs })
}

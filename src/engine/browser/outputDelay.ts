const KEY = 'zeptik.outputDelayMs'
/** No sound device is further off than this; more would be a measurement gone wrong. */
const LARGEST_DELAY_MS = 1000

function read(): Record<string, number> {
  try {
    const parsed: unknown = JSON.parse(localStorage.getItem(KEY) ?? '{}')
    return typeof parsed === 'object' && parsed !== null ? (parsed as Record<string, number>) : {}
  } catch {
    // No storage, or not ours: then nothing is known.
    return {}
  }
}

/** The measured delay of an output beyond what it announces, ms. It belongs to this browser and device. */
export function readOutputDelayMs(deviceId: string | undefined): number {
  const delayMs = read()[deviceId ?? '']
  return typeof delayMs === 'number' && Math.abs(delayMs) <= LARGEST_DELAY_MS ? delayMs : 0
}

/** @returns whether it could be kept */
export function saveOutputDelayMs(deviceId: string | undefined, delayMs: number): boolean {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...read(), [deviceId ?? '']: delayMs }))
    return true
  } catch {
    return false
  }
}

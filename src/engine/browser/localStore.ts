import type { z } from 'zod'

/** Something that this browser keeps: what belongs to the device, and not to the log. */
export interface LocalStore<T> {
  /** What was kept, or the fallback when nothing was, or nothing that can be read. */
  load(): T
  /** @returns whether it could be kept: storage can be forbidden or full; it is then known until the page is closed */
  save(value: T): boolean
}

export function localStore<T>(key: string, schema: z.ZodType<T>, fallback: T): LocalStore<T> {
  return {
    load() {
      try {
        const text = localStorage.getItem(key)
        if (text === null) return fallback
        const parsed = schema.safeParse(JSON.parse(text))
        return parsed.success ? parsed.data : fallback
      } catch {
        return fallback
      }
    },
    save(value) {
      try {
        localStorage.setItem(key, JSON.stringify(value))
        return true
      } catch {
        return false
      }
    },
  }
}

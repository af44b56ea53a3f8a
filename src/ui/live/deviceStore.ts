'use client'
import { useSyncExternalStore } from 'react'
import type { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'

/** Something that this browser keeps and screens follow. @returns a hook that reads it, and how to change it */
export function deviceStore<T extends object>(key: string, schema: z.ZodType<T>, initial: T) {
  const store = localStore<T>(key, schema, initial)
  let current: T | undefined
  const listeners = new Set<() => void>()
  const read = (): T => (current ??= store.load())
  const subscribe = (listener: () => void): (() => void) => {
    listeners.add(listener)
    return () => listeners.delete(listener)
  }
  return {
    use: (): T => useSyncExternalStore(subscribe, read, () => initial),
    save(change: Partial<T>): void {
      current = { ...read(), ...change }
      store.save(current)
      listeners.forEach((listener) => listener())
    },
  }
}

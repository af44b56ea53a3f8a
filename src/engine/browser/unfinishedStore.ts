import { z } from 'zod'
import { unfinishedSchema, type Unfinished } from '@/core/ft8'
import type { UnfinishedStore } from '../exchangeRunner'

const KEY = 'zeptik-unfinished'
const listSchema = z.array(unfinishedSchema).max(50)

/** Exchanges that broke off, kept by the browser so that a reload of the page loses none. */
export const browserUnfinishedStore: UnfinishedStore = {
  load(): Unfinished[] {
    try {
      return (listSchema.safeParse(JSON.parse(localStorage.getItem(KEY) ?? '[]')).data as Unfinished[] | undefined) ?? []
    } catch {
      return []
    }
  },
  save(kept): void {
    try {
      localStorage.setItem(KEY, JSON.stringify(kept))
    } catch {
      // A browser that keeps nothing: what broke off is known until the page is closed.
    }
  },
}

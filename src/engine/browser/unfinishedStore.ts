import { z } from 'zod'
import { unfinishedSchema, type Unfinished } from '@/core/ft8'
import { localStore } from './localStore'

const listSchema = z.array(unfinishedSchema).max(50)

/** Exchanges that broke off, kept so that a reload of the page loses none. */
export const browserUnfinishedStore = localStore<readonly Unfinished[]>(
  'zeptik-unfinished',
  listSchema as unknown as z.ZodType<readonly Unfinished[]>,
  [],
)

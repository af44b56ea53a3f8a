import { z } from 'zod'
import { unfinishedSchema, type Unfinished } from '@/core/ft8'
import { unfinishedContactSchema, type UnfinishedContact } from '../modes/psk31/state'
import { localStore } from './localStore'

const listSchema = z.array(unfinishedSchema).max(50)

/** Exchanges that broke off, kept so that a reload of the page loses none. */
export const browserUnfinishedStore = localStore<readonly Unfinished[]>(
  'zeptik-unfinished',
  listSchema as unknown as z.ZodType<readonly Unfinished[]>,
  [],
)

/** Contacts in PSK31 that were begun and left. */
export const browserUnfinishedContacts = localStore<readonly UnfinishedContact[]>(
  'zeptik-unfinished-contacts',
  z.array(unfinishedContactSchema).max(50) as unknown as z.ZodType<readonly UnfinishedContact[]>,
  [],
)

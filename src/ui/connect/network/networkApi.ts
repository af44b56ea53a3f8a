import { addressBookViewSchema, reachResultSchema, type AddressBookView, type NetworkPlace, type ReachResult } from '@/core/links'
import { ask, put } from '../../parts/ask'

export const setPassword = (request: { id: string; password: string | null }): Promise<AddressBookView> =>
  ask(addressBookViewSchema, '/api/network/password', put(request))
export const reach = (place: NetworkPlace): Promise<ReachResult> =>
  ask(reachResultSchema, '/api/network/reach', { ...put(place), method: 'POST' })

import { addressBookViewSchema, reachResultSchema, type AddressBookView, type NetworkPlace, type ReachResult } from '@/core/links'
import { ask, json } from '@/engine/browser/http'

export const setPassword = (request: { id: string; password: string | null }): Promise<AddressBookView> =>
  ask(addressBookViewSchema, '/api/network/password', json('PUT', request))
export const reach = (place: NetworkPlace): Promise<ReachResult> => ask(reachResultSchema, '/api/network/reach', json('POST', place))

import { linkStateSchema, type LinkState } from '@/core/links'
import { leaseStateSchema, type LeaseState } from '@/core/station/lease'
import type { SendKey } from '../station/keyer'
import { post } from './http'
import { followEvents } from './followEvents'

const KEPT_WIRE = 60

const liveSchema = linkStateSchema.extend({ lease: leaseStateSchema.optional() })

/**
 * Follows what the server knows of its links. By the same stream it knows that this screen is there, and tells whether it still holds
 * the station.
 * @returns a function that ends it
 */
export function openServerLinks(
  screen: string,
  onLease: (lease: LeaseState) => void,
  onState: (links: LinkState | undefined) => void,
): () => void {
  let wire: LinkState['wire'] = []
  return followEvents(`/api/links/live?by=${encodeURIComponent(screen)}`, liveSchema, {
    onValue({ lease, ...state }) {
      if (lease) onLease(lease)
      // Each message brings only what has crossed the wire since the last.
      wire = [...wire, ...state.wire].slice(-KEPT_WIRE)
      onState({ ...state, wire })
    },
    onLost() {
      wire = []
      onState(undefined)
    },
  })
}

/** Keys and unkeys for a screen. */
export const sendKeyAs =
  (screen: string): SendKey =>
  (request) =>
    post('/api/links/key', request.action === 'on' ? { ...request, by: screen } : request)

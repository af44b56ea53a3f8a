import { linkStateSchema, type LinkState } from '@/core/links'
import type { SendKey } from '../keyer'
import { post } from './api'
import { followEvents } from './followEvents'

const KEPT_WIRE = 60

/** Follows what the server knows of its links. @returns a function that ends it */
export function openServerLinks(onState: (links: LinkState | undefined) => void): () => void {
  let wire: LinkState['wire'] = []
  return followEvents('/api/links/live', linkStateSchema, {
    onValue(state) {
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

export const sendKey: SendKey = (request) => post('/api/links/key', request)

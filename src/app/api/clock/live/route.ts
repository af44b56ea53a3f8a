import { eventStream } from '@/server/http/eventStream'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** What the server knows of time. */
export function GET(request: Request): Response {
  const { hub } = getServices().clock
  let sequence = 0
  return eventStream(request, {
    subscribe: (listener) => hub.subscribe(listener),
    read() {
      const state = hub.state(sequence)
      sequence = state.readings.at(-1)?.sequence ?? sequence
      return state
    },
  })
}

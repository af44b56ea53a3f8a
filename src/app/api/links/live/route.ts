import { eventStream } from '@/server/http/eventStream'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** What the server knows of its links, and whether the screen that follows holds the station. */
export function GET(request: Request): Response {
  const { lease, links } = getServices()
  const { hub } = links
  const by = new URL(request.url).searchParams.get('by')?.slice(0, 60)
  let sequence = 0
  return eventStream(request, {
    subscribe(listener) {
      const leave = [hub.subscribe(listener), lease.follow(by, listener)]
      return () => leave.forEach((end) => end())
    },
    read() {
      const state = hub.state(sequence)
      sequence = state.wire.at(-1)?.sequence ?? sequence
      return { ...state, lease: lease.stateFor(by) }
    },
  })
}

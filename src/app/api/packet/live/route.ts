import { eventStream } from '@/server/http/eventStream'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** What the server knows of packet: sessions, stations heard, what keeps it from sending. */
export function GET(request: Request): Response {
  const { packet } = getServices()
  return eventStream(request, {
    subscribe: (listener) => packet.subscribe(listener),
    read: () => packet.state(),
  })
}

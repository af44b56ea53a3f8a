import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** One timed question: the browser learns how the server's monotonic clock stands to its own. */
export function GET(): Response {
  const receivedMonotonicMs = performance.now()
  // The services answer only in a server that was started as it should be.
  getServices()
  return Response.json(
    { receivedMonotonicMs, wallUtcMs: Date.now(), repliedMonotonicMs: performance.now() },
    { headers: { 'cache-control': 'no-store' } },
  )
}

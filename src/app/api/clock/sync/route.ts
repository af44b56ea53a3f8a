import { problem } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Asks the time servers now and answers when they have. */
export async function POST(): Promise<Response> {
  const { hub, config } = getServices().clock
  if (config.network.hosts.length === 0) return problem(409, 'No time server is set: enter one first.')
  await hub.askNetwork()
  return Response.json(hub.state(Infinity).network)
}

import { RELAYED, relayReportSchema } from '@/core/links'
import { eventStream } from '@/server/http/eventStream'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** A browser lends its port: orders for it, as events. */
export function GET(request: Request): Response {
  const by = RELAYED.find((b) => b === new URL(request.url).searchParams.get('by'))
  if (!by) return problem(422, `by: one of ${RELAYED.join(', ')}`)
  const { relay, hub } = getServices().links
  const stream = eventStream(request, relay.attach(by))
  hub.portAppeared()
  return stream
}

/** What the browser reports of the port. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, relayReportSchema, 200_000)
  if (!body.ok) return body.response
  return getServices().links.relay.report(body.value) ? Response.json({}) : problem(409, 'Another tab lends its port now.')
}

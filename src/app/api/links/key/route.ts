import { keyRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Keys and unkeys. Only the transmit gate of the page that runs the station calls this. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, keyRequestSchema, 1000)
  if (!body.ok) return body.response
  const done = await getServices().links.hub.key(body.value)
  return done.ok ? Response.json({}) : problem(409, done.error)
}

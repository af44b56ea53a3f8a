import { keyRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Keys, for the transmit gate of the screen that holds the station alone; unkeys, for anybody. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, keyRequestSchema, 1000)
  if (!body.ok) return body.response
  const { lease, links } = getServices()
  if (body.value.action === 'on' && !lease.mayKey(body.value.by))
    return problem(409, 'Another screen holds the station: take it over first.')
  const done = await links.hub.key(body.value)
  return done.ok ? Response.json({}) : problem(409, done.error)
}

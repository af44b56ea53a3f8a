import { linkStandinRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Starts, changes and stops the practice radio and TNC. */
export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, linkStandinRequestSchema, 2000)
  if (!body.ok) return body.response
  const { links } = getServices()
  const { standins, hub } = links
  const done = await standins.set(body.value)
  await links.settled
  return done.ok ? Response.json(hub.state(Infinity).standins) : problem(409, done.error)
}

import { endsOnly, packetActSchema } from '@/core/packet/station/contracts'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** What a person does with packet. Ending and silencing are open to all, the rest to the screen that holds the station. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, packetActSchema, 10_000)
  if (!body.ok) return body.response
  const { lease, packet } = getServices()
  const { value } = body
  if (!endsOnly(value) && !lease.mayKey(value.by)) return problem(409, 'Another screen holds the station: take it over first.')
  const done = await packet.act(value)
  return done.ok ? Response.json({}) : problem(409, done.error)
}

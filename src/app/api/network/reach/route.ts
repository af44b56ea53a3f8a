import { reachRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { reach } from '@/server/network/reach'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Tries whether an address and port of the address book can be reached, and no others. Nothing is sent to it. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, reachRequestSchema, 1000)
  if (!body.ok) return body.response
  if (!getServices().network.knows(body.value)) return problem(403, 'Only addresses of the address book are tried: store it there first.')
  return Response.json(await reach(body.value))
}

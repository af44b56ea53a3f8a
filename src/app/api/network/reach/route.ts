import { reachRequestSchema } from '@/core/links'
import { readJson } from '@/server/http/body'
import { reach } from '@/server/network/reach'

export const dynamic = 'force-dynamic'

/** Tries whether an address and port can be reached. Nothing is sent to it. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, reachRequestSchema, 1000)
  return body.ok ? Response.json(await reach(body.value)) : body.response
}

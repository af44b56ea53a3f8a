import { passwordRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Takes or forgets a password. It is never sent back. */
export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, passwordRequestSchema, 2000)
  if (!body.ok) return body.response
  const { network } = getServices()
  return (await network.setPassword(body.value.id, body.value.password))
    ? Response.json(network.view())
    : problem(404, 'There is no such address any more.')
}

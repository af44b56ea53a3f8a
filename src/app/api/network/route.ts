import { addressBookSchema } from '@/core/links'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** The address book; of passwords no more than whether there are any. */
export function GET(): Response {
  return Response.json(getServices().network.view())
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, addressBookSchema, 50_000)
  if (!body.ok) return body.response
  const { network } = getServices()
  await network.store(body.value)
  return Response.json(network.view())
}

import { leaseOrderSchema } from '@/core/station/lease'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** A screen asks for the station, takes it over, gives it back, or silences it. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, leaseOrderSchema, 1000)
  return body.ok ? Response.json(getServices().lease.order(body.value)) : body.response
}

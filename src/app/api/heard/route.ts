import { heardBatchSchema } from '@/core/station/heardContract'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'
import { storeHeard } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, heardBatchSchema)
  if (!body.ok) return body.response
  await storeHeard(getServices().database, body.value, Date.now())
  return Response.json({ stored: body.value.length })
}

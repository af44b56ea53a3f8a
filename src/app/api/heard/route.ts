import { heardQuerySchema } from '@/core/station'
import { heardBatchSchema } from '@/core/station/heardContract'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'
import { storeHeard, summariseHeard } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

/** Stations heard since a moment that told their locator. */
export async function GET(request: Request): Promise<Response> {
  const query = heardQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
  return Response.json(await summariseHeard(getServices().database, query.data))
}

export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, heardBatchSchema)
  if (!body.ok) return body.response
  await storeHeard(getServices().database, body.value, Date.now())
  return Response.json({ stored: body.value.length })
}

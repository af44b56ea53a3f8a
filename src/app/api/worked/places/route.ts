import { z } from 'zod'
import { readJson } from '@/server/http/body'
import { workedPlaces } from '@/server/log/workedPlaces'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

const askSchema = z.object({ practice: z.boolean() })

export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, askSchema)
  if (!body.ok) return body.response
  return Response.json(await workedPlaces(getServices().database, body.value.practice))
}

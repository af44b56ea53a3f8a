import { z } from 'zod'
import { readJson } from '@/server/http/body'
import { workedBefore } from '@/server/log/contactRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

const askSchema = z.object({ calls: z.array(z.string().max(20)).max(600), practice: z.boolean() })

export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, askSchema)
  if (!body.ok) return body.response
  return Response.json(await workedBefore(getServices().database, body.value.calls, body.value.practice))
}

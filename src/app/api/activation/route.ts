import { activationsSchema } from '@/core/activation'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'
import { openDocument, writeDocument } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  return Response.json(await openDocument(getServices().database, 'activations', activationsSchema, { current: null, past: [] }))
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, activationsSchema, 200_000)
  if (!body.ok) return body.response
  await writeDocument(getServices().database, 'activations', body.value)
  return Response.json(body.value)
}

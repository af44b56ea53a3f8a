import { fieldSetupSchema, defaultFieldSetup } from '@/core/power'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'
import { openDocument, writeDocument } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  return Response.json(await openDocument(getServices().database, 'field', fieldSetupSchema, defaultFieldSetup))
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, fieldSetupSchema, 20_000)
  if (!body.ok) return body.response
  await writeDocument(getServices().database, 'field', body.value)
  return Response.json(body.value)
}

import { levelProfileSchema } from '@/core/levels'
import { readJson } from '@/server/http/body'
import { readLevelProfiles, storeLevelProfile } from '@/server/levelRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  return Response.json(await readLevelProfiles(getServices().database))
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, levelProfileSchema, 50_000)
  if (!body.ok) return body.response
  await storeLevelProfile(getServices().database, body.value)
  return Response.json(body.value)
}

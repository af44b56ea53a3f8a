import { z } from 'zod'
import { levelHistoryBatchSchema } from '@/core/levels'
import { problem, readJson } from '@/server/http/body'
import { readLevelHistory, storeLevelHistory } from '@/server/levelRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

const querySchema = z.object({ from: z.coerce.number().finite(), to: z.coerce.number().finite() })

export async function GET(request: Request): Promise<Response> {
  const query = querySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, 'from and to are instants in milliseconds since 1970')
  return Response.json(await readLevelHistory(getServices().database, query.data.from, query.data.to))
}

export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, levelHistoryBatchSchema, 200_000)
  if (!body.ok) return body.response
  await storeLevelHistory(getServices().database, body.value, Date.now())
  return Response.json({ stored: body.value.length })
}

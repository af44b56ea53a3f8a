import { diagnoseRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Starts, answers and stops the ladder. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, diagnoseRequestSchema, 1000)
  if (!body.ok) return body.response
  const done = await getServices().links.hub.diagnose(body.value)
  return done.ok ? Response.json({}) : problem(409, done.error)
}

import { adifImportOrderSchema } from '@/core/log'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** How the import of an ADIF file goes; null when there is none. */
export function GET(): Response {
  return Response.json(getServices().imports.state)
}

/** Stores what was read, or stops. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, adifImportOrderSchema, 1000)
  if (!body.ok) return body.response
  const { imports } = getServices()
  const done = await imports.order(body.value)
  return done.ok ? Response.json(imports.state) : problem(done.status, done.error)
}

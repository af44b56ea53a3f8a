import { clockConfigSchema } from '@/core/links'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export function GET(): Response {
  return Response.json(getServices().clock.config)
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, clockConfigSchema, 20_000)
  if (!body.ok) return body.response
  const { clock } = getServices()
  await clock.configure(body.value)
  return Response.json(clock.config)
}

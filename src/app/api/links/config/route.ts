import { linkConfigSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export function GET(): Response {
  return Response.json(getServices().links.config)
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, linkConfigSchema, 20_000)
  if (!body.ok) return body.response
  const { links } = getServices()
  const done = await links.configure(body.value)
  return done.ok ? Response.json(links.config) : problem(422, done.error)
}

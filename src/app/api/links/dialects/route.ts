import { z } from 'zod'
import { catDialectSchema } from '@/core/links/cat'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** The operator's own dialects. */
export function GET(): Response {
  return Response.json(getServices().links.ownDialects)
}

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, catDialectSchema, 50_000)
  if (!body.ok) return body.response
  const { links } = getServices()
  const done = await links.storeDialect(body.value)
  return done.ok ? Response.json(links.ownDialects) : problem(422, done.error)
}

export async function DELETE(request: Request): Promise<Response> {
  const body = await readJson(request, z.object({ id: z.string().max(40) }), 1000)
  if (!body.ok) return body.response
  const { links } = getServices()
  const done = await links.removeDialect(body.value.id)
  return done.ok ? Response.json(links.ownDialects) : problem(409, done.error)
}

import { z } from 'zod'
import { contactQuerySchema, contactSchema } from '@/core/log'
import { problem, readJson } from '@/server/http/body'
import { listContacts } from '@/server/log/contactRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export async function GET(request: Request): Promise<Response> {
  const query = contactQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, `${query.error.issues[0]!.path.join('.')}: ${query.error.issues[0]!.message}`)
  const { database, logbook } = getServices()
  return Response.json(await listContacts(database, query.data, logbook.totals))
}

/** Stores contacts made in a browser. The answer comes only when they stand in the journal on the disk. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, z.array(contactSchema).max(200))
  if (!body.ok) return body.response
  const result = await getServices().logbook.store(body.value)
  return result.ok ? Response.json(result.value) : problem(result.status, result.error)
}

import { problem } from '@/server/http/body'
import { sessionContacts, sessionQuerySchema } from '@/server/log/sessionContacts'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export async function GET(request: Request): Promise<Response> {
  const query = sessionQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
  return Response.json(await sessionContacts(getServices().database, query.data))
}

import { keptSessionsQuerySchema } from '@/core/packet/station/contracts'
import { problem } from '@/server/http/body'
import { findPacketSessions } from '@/server/packet/sessionRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Sessions of before, found by a word or a call. */
export async function GET(request: Request): Promise<Response> {
  const query = keptSessionsQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
  return Response.json(await findPacketSessions(getServices().database, query.data))
}

import { readLadderResults } from '@/server/ladderRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** How climbs of the ladder ended, newest first. */
export async function GET(): Promise<Response> {
  return Response.json(await readLadderResults(getServices().database))
}

import { z } from 'zod'
import { problem } from '@/server/http/body'
import { removeLevelProfile } from '@/server/levelRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export async function DELETE(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = z.uuid().safeParse((await params).id)
  if (!id.success) return problem(422, 'That is no name of a profile.')
  return (await removeLevelProfile(getServices().database, id.data))
    ? Response.json({ removed: id.data })
    : problem(404, 'There is no such profile any more.')
}

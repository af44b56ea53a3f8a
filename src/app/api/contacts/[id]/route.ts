import { z } from 'zod'
import { contactChangeSchema } from '@/core/log'
import { problem, readJson } from '@/server/http/body'
import { readContact } from '@/server/log/contactRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ id: string }> }

async function idOf({ params }: Context): Promise<string | undefined> {
  const id = z.uuid().safeParse((await params).id)
  return id.success ? id.data : undefined
}

export async function GET(_request: Request, context: Context): Promise<Response> {
  const id = await idOf(context)
  const found = id && (await readContact(getServices().database, id))
  return found ? Response.json(found) : problem(404, 'This contact is not in the log.')
}

const editSchema = z.object({
  revision: z.int().min(1),
  change: contactChangeSchema,
})

export async function PATCH(request: Request, context: Context): Promise<Response> {
  const id = await idOf(context)
  if (!id) return problem(404, 'This contact is not in the log.')
  const body = await readJson(request, editSchema)
  if (!body.ok) return body.response
  const result = await getServices().logbook.edit(id, body.value.revision, body.value.change)
  return result.ok ? Response.json(result.value) : problem(result.status, result.error)
}

export async function DELETE(request: Request, context: Context): Promise<Response> {
  const id = await idOf(context)
  const revision = Number(new URL(request.url).searchParams.get('revision'))
  if (!id || !Number.isInteger(revision)) return problem(404, 'This contact is not in the log.')
  const result = await getServices().logbook.remove(id, revision)
  return result.ok ? Response.json(result.value) : problem(result.status, result.error)
}

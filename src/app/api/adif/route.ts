import { adifHeader, contactQuerySchema, contactToAdif, storable } from '@/core/log'
import { problem } from '@/server/http/body'
import { exportContacts } from '@/server/log/contactRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

const VERSION = process.env.npm_package_version ?? '0.1.0'

/** What the file holds stands in its name: nobody sends practice to a programme by mistake. */
const HOLDS = { air: '', practice: '-practice', all: '-with-practice' } as const

/** Exports the log, or the part of it that the query names, oldest contact first: what was on the air, unless practice is asked for. */
export function GET(request: Request): Response {
  const query = contactQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
  if (query.data.show === 'deleted') return problem(422, 'Deleted contacts go into no file. Restore those that belong there.')
  const pages = exportContacts(getServices().database, query.data)
  const encoder = new TextEncoder()
  const now = Date.now()
  const stream = new ReadableStream<Uint8Array>({
    start: (controller) => controller.enqueue(encoder.encode(adifHeader(now, VERSION))),
    async pull(controller) {
      const page = await pages.next()
      if (page.done) controller.close()
      else controller.enqueue(encoder.encode(page.value.map(contactToAdif).join('')))
    },
  })
  const name = `zeptik${HOLDS[query.data.origin]}-${new Date(now).toISOString().slice(0, 16).replace(/[-:T]/g, '')}.adi`
  return new Response(stream, {
    headers: { 'content-type': 'text/plain; charset=utf-8', 'content-disposition': `attachment; filename="${name}"` },
  })
}

/** Takes an ADIF file in and begins to read it; how that goes is told by `import`. */
export async function POST(request: Request): Promise<Response> {
  const name = storable(new URL(request.url).searchParams.get('name') ?? '').slice(0, 200)
  const taken = await getServices().imports.receive(request.body, name)
  if (taken.ok) return Response.json(getServices().imports.state, { status: 202 })
  // What is left unread makes the connection useless for another request.
  return Response.json({ error: taken.error }, { status: taken.status, ...(taken.status === 413 && { headers: { connection: 'close' } }) })
}

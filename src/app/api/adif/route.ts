import { randomUUID } from 'node:crypto'
import { ADI_LIMIT_BYTES, adifHeader, contactQuerySchema, contactToAdif } from '@/core/log'
import { problem, readBytes } from '@/server/http/body'
import { exportContacts } from '@/server/log/contactRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

const VERSION = process.env.npm_package_version ?? '0.1.0'

/** Exports the log, or the part of it that the query names, oldest contact first. */
export function GET(request: Request): Response {
  const query = contactQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
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
  const name = `zeptik-${new Date(now).toISOString().slice(0, 16).replace(/[-:T]/g, '')}.adi`
  return new Response(stream, {
    headers: { 'content-type': 'text/plain; charset=utf-8', 'content-disposition': `attachment; filename="${name}"` },
  })
}

/** Looks into an ADIF file, and with `?confirm=1` stores what can be read of it. */
export async function POST(request: Request): Promise<Response> {
  const bytes = await readBytes(request, ADI_LIMIT_BYTES)
  if (!bytes.ok) return bytes.response
  const confirm = new URL(request.url).searchParams.get('confirm') === '1'
  const result = await getServices().logbook.importAdif(bytes.value, randomUUID, confirm)
  return result.ok ? Response.json(result.value) : problem(result.status, result.error)
}

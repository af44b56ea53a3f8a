import { heardTextQuerySchema, type HeardText } from '@/core/station'
import { problem } from '@/server/http/body'
import { getServices } from '@/server/services'
import { searchHeard } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

/** Finds what was heard by a word or a call, or hands all of it over as a file of text. */
export async function GET(request: Request): Promise<Response> {
  const query = heardTextQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return problem(422, query.error.issues[0]!.message)
  const found = await searchHeard(getServices().database, query.data)
  if (query.data.as === 'list') return Response.json(found)
  const day = new Date().toISOString().slice(0, 10)
  return new Response([...found].reverse().map(lineOf).join(''), {
    headers: {
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': `attachment; filename="heard-${query.data.mode}-${day}.txt"`,
    },
  })
}

/** One line for each stretch: when, where in the passband, how strong, and what was read. */
function lineOf({ startUtcMs, audioOffsetHz, snrDb, text }: HeardText): string {
  const when = new Date(startUtcMs).toISOString().slice(0, 19).replace('T', ' ')
  const where = audioOffsetHz === null ? '' : `  ${Math.round(audioOffsetHz)} Hz`
  const strength = snrDb === null ? '' : `  ${Math.round(snrDb)} dB`
  return `${when}Z${where}${strength}  ${text.replace(/\s+/g, ' ').trim()}\n`
}

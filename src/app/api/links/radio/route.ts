import { radioRequestSchema } from '@/core/links'
import { problem, readJson } from '@/server/http/body'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Sets the radio's frequency and mode over its control line. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, radioRequestSchema, 1000)
  if (!body.ok) return body.response
  const { frequencyHz, mode } = body.value
  const { hub } = getServices().links
  if (frequencyHz !== undefined) {
    const done = await hub.ask({ command: 'setFrequency', frequencyHz })
    if (!done.ok) return problem(409, done.error)
  }
  if (mode !== undefined) {
    const done = await hub.ask({ command: 'setMode', mode })
    if (!done.ok) return problem(409, done.error)
  }
  return Response.json({})
}

import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** The last frames on the channel, the newest first: asked for by who looks at them, and no part of what every screen follows. */
export function GET(): Response {
  return Response.json(getServices().packet.frames)
}

import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Whether the server is there, and how long it was deaf at most lately. */
export function GET(): Response {
  const { config, stalls } = getServices()
  return Response.json({ ok: true, demo: config.demo, longestStallMs: Math.round(stalls.longestMs) })
}

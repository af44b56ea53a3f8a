import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export function GET(): Response {
  return Response.json({ ok: true, demo: getServices().config.demo })
}

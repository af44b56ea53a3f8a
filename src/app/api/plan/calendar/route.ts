import { emptyPlan, planToCalendar, sessionPlanSchema } from '@/core/session'
import { getServices } from '@/server/services'
import { openDocument } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

/** The plan as a file for a calendar. */
export async function GET(): Promise<Response> {
  const plan = await openDocument(getServices().database, 'plan', sessionPlanSchema, emptyPlan)
  return new Response(planToCalendar(plan, Date.now()), {
    headers: { 'content-type': 'text/calendar; charset=utf-8', 'content-disposition': 'attachment; filename="zeptik-session.ics"' },
  })
}

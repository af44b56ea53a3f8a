import { emptyPlan, sessionPlanSchema } from '@/core/session'
import { documentRoute } from '@/server/http/documentRoute'

export const dynamic = 'force-dynamic'

export const { GET, PUT } = documentRoute('plan', sessionPlanSchema, emptyPlan, 200_000)

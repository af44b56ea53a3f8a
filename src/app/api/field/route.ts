import { defaultFieldSetup, fieldSetupSchema } from '@/core/power'
import { documentRoute } from '@/server/http/documentRoute'

export const dynamic = 'force-dynamic'

export const { GET, PUT } = documentRoute('field', fieldSetupSchema, defaultFieldSetup, 20_000)

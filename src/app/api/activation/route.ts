import { activationsSchema } from '@/core/activation'
import { documentRoute } from '@/server/http/documentRoute'

export const dynamic = 'force-dynamic'

export const { GET, PUT } = documentRoute('activations', activationsSchema, { current: null, past: [] }, 200_000)

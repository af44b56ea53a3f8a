import { channelListSchema } from '@/core/channels'
import { documentRoute } from '@/server/http/documentRoute'

export const dynamic = 'force-dynamic'

export const { GET, PUT } = documentRoute('channels', channelListSchema, [], 500_000)

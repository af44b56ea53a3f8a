import { chainSetupSchema, emptyChainSetup } from '@/core/chain'
import { documentRoute } from '@/server/http/documentRoute'

export const dynamic = 'force-dynamic'

export const { GET, PUT } = documentRoute('chain', chainSetupSchema, emptyChainSetup, 50_000)

import { z } from 'zod'
import {
  ladderResultSchema,
  linkConfigSchema,
  linkStateSchema,
  serialPortSchema,
  type DiagnoseRequest,
  type LadderResult,
  type LinkConfig,
  type LinkStandinRequest,
  type LinkState,
  type SerialPortEntry,
} from '@/core/links'
import { catDialectSchema, type CatDialect } from '@/core/links/cat'
import { ask, json } from '@/engine/browser/http'

const nothing = z.object({})

export const fetchLinkConfig = (): Promise<LinkConfig> => ask(linkConfigSchema, '/api/links/config')
export const saveLinkConfig = (config: LinkConfig): Promise<LinkConfig> => ask(linkConfigSchema, '/api/links/config', json('PUT', config))
export const diagnoseLink = (request: DiagnoseRequest): Promise<object> => ask(nothing, '/api/links/diagnose', json('POST', request))
export const setRadio = (frequencyHz: number): Promise<object> => ask(nothing, '/api/links/radio', json('POST', { frequencyHz }))
export const setLinkStandins = (request: LinkStandinRequest): Promise<LinkState['standins']> =>
  ask(linkStateSchema.shape.standins, '/api/links/standins', json('PUT', request))
export const fetchPorts = (): Promise<SerialPortEntry[]> => ask(z.array(serialPortSchema), '/api/clock/ports')
export const fetchLadders = (): Promise<LadderResult[]> => ask(z.array(ladderResultSchema), '/api/links/ladders')
const dialectsSchema = z.array(catDialectSchema)
export const fetchDialects = (): Promise<CatDialect[]> => ask(dialectsSchema, '/api/links/dialects')
export const storeDialect = (dialect: CatDialect): Promise<CatDialect[]> => ask(dialectsSchema, '/api/links/dialects', json('PUT', dialect))
export const removeDialect = (id: string): Promise<CatDialect[]> => ask(dialectsSchema, '/api/links/dialects', json('DELETE', { id }))

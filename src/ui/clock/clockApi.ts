import { z } from 'zod'
import {
  clockConfigSchema,
  clockHistorySchema,
  serialPortSchema,
  serverClockSchema,
  type ClockConfig,
  type ClockHistoryEntry,
  type SerialPortEntry,
  type ServerClock,
  type StandinRequest,
} from '@/core/links'
import { ask, json } from '@/engine/browser/http'

export const fetchClockConfig = (): Promise<ClockConfig> => ask(clockConfigSchema, '/api/clock/config')
export const saveClockConfig = (config: ClockConfig): Promise<ClockConfig> =>
  ask(clockConfigSchema, '/api/clock/config', json('PUT', config))
export const fetchSerialPorts = (): Promise<SerialPortEntry[]> => ask(z.array(serialPortSchema), '/api/clock/ports')
export const syncNow = (): Promise<ServerClock['network']> => ask(serverClockSchema.shape.network, '/api/clock/sync', { method: 'POST' })
export const setStandins = (request: StandinRequest): Promise<ServerClock['standins']> =>
  ask(serverClockSchema.shape.standins, '/api/clock/standins', json('PUT', request))
export const fetchClockHistory = (fromUtcMs: number, toUtcMs: number): Promise<ClockHistoryEntry[]> =>
  ask(z.array(clockHistorySchema), `/api/clock/history?from=${fromUtcMs}&to=${toUtcMs}`)

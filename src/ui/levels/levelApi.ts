import { z } from 'zod'
import {
  levelHistorySchema,
  levelProfileSchema,
  radioSheetSchema,
  type LevelHistoryEntry,
  type LevelProfile,
  type RadioSheet,
} from '@/core/levels'
import { ask, json } from '@/engine/browser/http'

export const fetchLevelProfiles = (): Promise<LevelProfile[]> => ask(z.array(levelProfileSchema), '/api/levels/profiles')
export const saveLevelProfile = (profile: LevelProfile): Promise<LevelProfile> =>
  ask(levelProfileSchema, '/api/levels/profiles', json('PUT', profile))
export const fetchLevelHistory = (fromUtcMs: number, toUtcMs: number): Promise<LevelHistoryEntry[]> =>
  ask(z.array(levelHistorySchema), `/api/levels/history?from=${fromUtcMs}&to=${toUtcMs}`)
export const fetchSheets = (): Promise<RadioSheet[]> => ask(z.array(radioSheetSchema), '/api/sheets')
export const saveSheets = (sheets: readonly RadioSheet[]): Promise<{ taken: number; older: number }> =>
  ask(z.object({ taken: z.number(), older: z.number() }), '/api/sheets', json('POST', { kind: 'zeptik radio sheets', version: 1, sheets }))
const remove = (path: string): Promise<{ removed: string }> => ask(z.object({ removed: z.string() }), path, { method: 'DELETE' })
export const removeLevelProfile = (id: string): Promise<{ removed: string }> => remove(`/api/levels/profiles/${id}`)
export const removeSheet = (id: string): Promise<{ removed: string }> => remove(`/api/sheets/${id}`)

import { z } from 'zod'
import type { LevelHistoryEntry } from '@/core/levels'
import type { ClockHistoryEntry } from '@/core/links'
import type { Contact } from '@/core/log'
import type { HeardReport } from '@/core/station/heardContract'
import { workedPlacesSchema } from '@/core/log'
import type { WorkedBefore, WorkedPlaces } from '../station/state'
import { json, NO_ANSWER, request, type Answer } from './http'

const TIMEOUT_MS = 10_000
/** Contacts wait here; whoever reads why is to know that none is lost. */
const WAITING = 'Contacts wait in this browser until it does.'

const send = (path: string, body: unknown): Promise<Answer> =>
  request(path, { ...json('POST', body), signal: AbortSignal.timeout(TIMEOUT_MS) })

const storedSchema = z.object({ stored: z.array(z.string()) })

/** Sends contacts; true only when the server says that it stored every one of them. */
export async function sendContacts(contacts: readonly Contact[]): Promise<{ ok: true } | { ok: false; error: string; refused?: boolean }> {
  const answer = await send('/api/contacts', contacts)
  if (!answer.ok) return answer.error === NO_ANSWER ? { ...answer, error: `${NO_ANSWER} ${WAITING}` } : answer
  const parsed = storedSchema.safeParse(answer.value)
  const stored = new Set(parsed.success ? parsed.data.stored : [])
  return contacts.every((c) => stored.has(c.id)) ? { ok: true } : { ok: false, error: 'The server did not acknowledge the contact.' }
}

export async function sendHeard(reports: HeardReport[]): Promise<boolean> {
  return (await send('/api/heard', reports)).ok
}

export async function sendClockHistory(entries: ClockHistoryEntry[]): Promise<boolean> {
  return (await send('/api/clock/history', entries)).ok
}

export async function sendLevelHistory(entries: LevelHistoryEntry[]): Promise<boolean> {
  return (await send('/api/levels/history', entries)).ok
}

const workedSchema = z.array(
  z.object({
    call: z.string(),
    band: z.string().nullable(),
    mode: z.string(),
    locator: z.string().nullable(),
    name: z.string().nullable(),
    startedUtcMs: z.number(),
  }),
)

export async function askWorked(calls: string[], practice: boolean): Promise<WorkedBefore[] | undefined> {
  const answer = await send('/api/worked', { calls, practice })
  if (!answer.ok) return undefined
  const parsed = workedSchema.safeParse(answer.value)
  return parsed.success ? parsed.data : undefined
}

export async function askPlaces(practice: boolean): Promise<WorkedPlaces | undefined> {
  const answer = await send('/api/worked/places', { practice })
  const parsed = workedPlacesSchema.safeParse(answer.ok ? answer.value : undefined)
  return parsed.success ? parsed.data : undefined
}

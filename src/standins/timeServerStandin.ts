import { z } from 'zod'
import { encodeSntpReply } from '@/core/time'

/** What can be wrong with the stand-in time server. */
export const TIME_FAULTS = {
  liesByADay: 'a day off',
  liesByASecond: 'a second off',
  silent: 'does not answer',
  turnsAway: 'turns everybody away',
  notSet: 'says that its clock is not set',
  garbage: 'answers with garbage',
} as const
export type TimeFault = keyof typeof TIME_FAULTS
export const timeFaultSchema = z.enum(Object.keys(TIME_FAULTS) as [TimeFault, ...TimeFault[]])

/**
 * Answers one packet as a time server would.
 * @param nowUtcMs the server's true time
 * @returns the answer, or undefined for none
 */
export function answerSntp(request: Uint8Array, nowUtcMs: number, faults: ReadonlySet<TimeFault>, errorMs = 0): Uint8Array | undefined {
  if (faults.has('silent')) return undefined
  if (faults.has('garbage')) return Uint8Array.from(request, (byte) => byte ^ 0xa5).slice(0, 31)
  const utcMs = nowUtcMs + errorMs + (faults.has('liesByADay') ? 86_400_000 : 0) + (faults.has('liesByASecond') ? 1000 : 0)
  return encodeSntpReply(request, {
    receivedUtcMs: utcMs,
    sentUtcMs: utcMs + 0.05,
    ...(faults.has('turnsAway') && { stratum: 0, code: 'RATE' }),
    ...(faults.has('notSet') && { leap: 3, stratum: 16 }),
  })
}

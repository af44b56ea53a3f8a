import { z } from 'zod'
import { encodeSntpReply } from '@/core/time'

/** What can be wrong with the stand-in time server. */
export const TIME_FAULTS = {
  liesByADay: 'a day off',
  liesByASecond: 'a second off',
  silent: 'does not answer',
  alternates: 'every other answer half a second off',
  turnsAway: 'turns everybody away: asked too often',
  denies: 'wants no questions from here',
  impossible: 'says that it took five seconds to answer',
  notSet: 'says that its clock is not set',
  garbage: 'answers with garbage',
} as const
export type TimeFault = keyof typeof TIME_FAULTS
export const timeFaultSchema = z.enum(Object.keys(TIME_FAULTS) as [TimeFault, ...TimeFault[]])

export interface TimeServerStandin {
  /** Answers one packet. @param nowUtcMs the server's true time @returns undefined for no answer */
  answer(request: Uint8Array, nowUtcMs: number, faults: ReadonlySet<TimeFault>): Uint8Array | undefined
}

/** A time server that answers as the common ones do. @param errorMs how far its own time is off */
export function createTimeServerStandin(errorMs = 0): TimeServerStandin {
  let answers = 0
  return {
    answer(request, nowUtcMs, faults) {
      if (faults.has('silent')) return undefined
      if (faults.has('garbage')) return Uint8Array.from(request, (byte) => byte ^ 0xa5).slice(0, 31)
      answers++
      const lieMs =
        (faults.has('liesByADay') ? 86_400_000 : 0) +
        (faults.has('liesByASecond') ? 1000 : 0) +
        (faults.has('alternates') && answers % 2 === 0 ? 500 : 0)
      const utcMs = nowUtcMs + errorMs + lieMs
      return encodeSntpReply(request, {
        receivedUtcMs: utcMs,
        sentUtcMs: utcMs + (faults.has('impossible') ? 5000 : 0.05),
        ...(faults.has('turnsAway') && { stratum: 0, code: 'RATE' }),
        ...(faults.has('denies') && { stratum: 0, code: 'DENY' }),
        ...(faults.has('notSet') && { leap: 3, stratum: 16 }),
      })
    },
  }
}

import { z } from 'zod'

/** Who holds the station: one screen, of whatever device. Instants are on one monotonic clock. Plain data. */
export interface Lease {
  holder?: {
    id: string
    /** Until when it is waited for: it is not there now, or was not yet. Absent while it is there. */
    untilMs?: number
  }
}

/** How long a screen that was given the station may take to begin with it. */
const BEGIN_MS = 10_000
/** A screen that is loaded anew, or loses its way for a moment, keeps the station. */
const AWAY_MS = 1500

/** The lease as it is at an instant: who has been away for too long has lost it. */
export function leaseAt(lease: Lease, nowMs: number): Lease {
  const until = lease.holder?.untilMs
  return until !== undefined && nowMs >= until ? {} : lease
}

/** Asks for the station: it is given to whoever comes first, and to nobody else while that one holds it. */
export function askLease(lease: Lease, id: string, nowMs: number): Lease {
  const now = leaseAt(lease, nowMs)
  return now.holder ? now : { holder: { id, untilMs: nowMs + BEGIN_MS } }
}

/** A person at this screen takes the station over, whoever held it. */
export const takeLease = (id: string, nowMs: number): Lease => ({ holder: { id, untilMs: nowMs + BEGIN_MS } })

/** The screen that holds it is there. */
export function arriveLease(lease: Lease, id: string, nowMs: number): Lease {
  const now = leaseAt(lease, nowMs)
  // After a restart of the server the first that comes back has it as before.
  return !now.holder || now.holder.id === id ? { holder: { id } } : now
}

/** The screen that holds it is gone, for a moment perhaps. */
export const departLease = (lease: Lease, id: string, nowMs: number): Lease =>
  lease.holder?.id === id ? { holder: { id, untilMs: nowMs + AWAY_MS } } : lease

/** The screen gives it back. */
export const leaveLease = (lease: Lease, id: string): Lease => (lease.holder?.id === id ? {} : lease)

/** Whether a screen may key: the one that holds the station, or anybody while no screen does. */
export function mayKey(lease: Lease, id: string | undefined, nowMs: number): boolean {
  const { holder } = leaseAt(lease, nowMs)
  return holder === undefined || holder.id === id
}

const idSchema = z.string().min(8).max(60)

/** What a screen orders. Silence is obeyed from any. */
export const leaseOrderSchema = z.discriminatedUnion('action', [
  /** `waiting`: it has been told that another one holds it. */
  z.object({ action: z.enum(['ask', 'take', 'leave']), id: idSchema, waiting: z.boolean().optional() }),
  z.object({ action: z.literal('silence') }),
])
export type LeaseOrder = z.infer<typeof leaseOrderSchema>

/**
 * What a screen is told: whether it holds the station, whether nobody does, whether whoever holds it is not there at the moment, and
 * how often Silence has been asked for since the server began.
 */
export const leaseStateSchema = z.object({ held: z.boolean(), free: z.boolean(), away: z.boolean(), silences: z.number().int() })
export type LeaseState = z.infer<typeof leaseStateSchema>

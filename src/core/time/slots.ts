/** Length of the slots in which the timed modes take turns; they begin with each quarter of a minute of UTC. */
export const SLOT_MS = 15_000

/** A slot's place in UTC: even slots start at :00 and :30 of each minute, odd ones at :15 and :45 (for 15 s slots). */
export type Parity = 'even' | 'odd'

/** Number of the slot that holds an instant, counted from 1970; its parity is the number's. */
export function slotIndexAt(utcMs: number, slotMs: number): number {
  return Math.floor(utcMs / slotMs)
}

/** When a slot begins. */
export function slotStartUtcMs(index: number, slotMs: number): number {
  return index * slotMs
}

/** Parity of a slot. */
export function parityOf(index: number): Parity {
  return ((index % 2) + 2) % 2 === 0 ? 'even' : 'odd'
}

export function otherParity(parity: Parity): Parity {
  return parity === 'even' ? 'odd' : 'even'
}

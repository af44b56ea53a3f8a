import { greatCircle, locatorToPosition } from '../place/locator'
import { SLOT_MS } from './signal'
import type { Ft8Decode } from './decode'

/** In which order stations that call together are taken. */
export const CALLER_ORDERS = ['first', 'strongest', 'farthest'] as const
export type CallerOrder = (typeof CALLER_ORDERS)[number]

/** A station that calls this one and waits to be answered. */
export interface QueuedCaller {
  call: string
  locator?: string
  /** What it said last, and when. */
  decode: Ft8Decode
  slotIndex: number
  firstSlotIndex: number
  timesHeard: number
}

/** Callers not heard for this many slots (three minutes) have given up. */
const PATIENCE_SLOTS = 180_000 / SLOT_MS
const MOST_WAITING = 20

/** Adds what callers said in a slot to the queue: who is there keeps the place, newcomers come last. */
export function queueCallers(queue: readonly QueuedCaller[], decodes: readonly Ft8Decode[], slotIndex: number): QueuedCaller[] {
  const next = queue.filter((caller) => slotIndex - caller.slotIndex <= PATIENCE_SLOTS)
  for (const decode of decodes) {
    const { message } = decode
    if (message.kind !== 'standard' || !message.from) continue
    const at = next.findIndex((caller) => caller.call === message.from)
    const before = next[at]
    // The same slot may be looked at twice.
    if (before?.slotIndex === slotIndex) continue
    const locator = message.info.kind === 'locator' ? message.info.locator : before?.locator
    const caller: QueuedCaller = {
      call: message.from,
      ...(locator && { locator }),
      decode,
      slotIndex,
      firstSlotIndex: before?.firstSlotIndex ?? slotIndex,
      timesHeard: (before?.timesHeard ?? 0) + 1,
    }
    if (before) next[at] = caller
    else next.push(caller)
  }
  return next.slice(0, MOST_WAITING)
}

/** Callers in the operator's order; who is equal in it stays as they came. */
export function orderCallers(queue: readonly QueuedCaller[], order: CallerOrder, ownLocator: string): QueuedCaller[] {
  return [...queue].sort(comparison(order, ownLocator))
}

function comparison(order: CallerOrder, ownLocator: string): (a: QueuedCaller, b: QueuedCaller) => number {
  switch (order) {
    case 'first':
      return (a, b) => a.firstSlotIndex - b.firstSlotIndex || b.decode.snrDb - a.decode.snrDb
    case 'strongest':
      return (a, b) => b.decode.snrDb - a.decode.snrDb
    case 'farthest':
      return (a, b) => distanceKm(ownLocator, b.locator) - distanceKm(ownLocator, a.locator) || b.decode.snrDb - a.decode.snrDb
  }
}

/** A station whose locator is not known counts as near: it may be anywhere. */
function distanceKm(from: string, to: string | undefined): number {
  return from && to ? greatCircle(locatorToPosition(from), locatorToPosition(to)).distanceKm : 0
}

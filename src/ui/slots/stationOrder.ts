import type { HeardStation } from '@/core/ft8'

/** Slots after which a station counts as gone quiet. */
export const QUIET_AFTER_SLOTS = 4

/** Rank of what can be done with a station now; lower comes first. */
function rank(station: HeardStation, slotNow: number): number {
  const quiet = slotNow - station.lastSlotIndex > QUIET_AFTER_SLOTS
  if (station.doing.kind === 'callingMe' || station.doing.kind === 'workingMe') return quiet ? 3 : 0
  if (quiet) return 6
  if (station.doing.kind === 'callingAll') return 1
  if (station.doing.kind === 'ending') return 2
  return 4
}

/** Stations by what matters now: who answers me, who calls, who is about to be free, and the rest; within that by call, so that rows keep still. */
export function orderStations(stations: Iterable<HeardStation>, slotNow: number): HeardStation[] {
  return [...stations].sort((a, b) => rank(a, slotNow) - rank(b, slotNow) || (a.call < b.call ? -1 : a.call > b.call ? 1 : 0))
}

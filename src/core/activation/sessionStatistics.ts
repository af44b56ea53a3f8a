import type { CountedContact } from './activation'

/** What a session came to. */
export interface SessionStatistics {
  contacts: number
  stations: number
  /** Contacts in each hour, from the first to the last. */
  perHour: { utcMs: number; count: number }[]
  bestHour: number
  farthest: { call: string; distanceKm: number } | undefined
  medianDistanceKm: number | undefined
  /** Middle time error of the stations worked, positive when theirs are late (or the own clock is early). */
  medianTimeOffsetS: number | undefined
  /** Transmissions that a contact took, in the mean. */
  transmissionsPerContact: number | undefined
  /** Share of contacts that needed more than the fewest transmissions. */
  withRepeats: number | undefined
}

const HOUR_MS = 3_600_000
/** Either side of an exchange speaks twice or three times; more are repeats. */
const FEWEST_TRANSMISSIONS = 3

/** Sums up a session. @param distanceTo kilometres to a locator, when that can be said */
export function sumUpSession(contacts: readonly CountedContact[], distanceTo: (locator: string) => number | undefined): SessionStatistics {
  const inOrder = [...contacts].sort((a, b) => a.endedUtcMs - b.endedUtcMs)
  const distances = inOrder
    .flatMap((c) => {
      const distanceKm = c.locator ? distanceTo(c.locator) : undefined
      return distanceKm === undefined ? [] : [{ call: c.call, distanceKm }]
    })
    .sort((a, b) => b.distanceKm - a.distanceKm)
  const hourOf = (c: CountedContact) => Math.floor(c.endedUtcMs / HOUR_MS)
  const perHour: { utcMs: number; count: number }[] = []
  if (inOrder.length > 0)
    for (let hour = hourOf(inOrder[0]!); hour <= hourOf(inOrder[inOrder.length - 1]!) && perHour.length < 1000; hour++)
      perHour.push({ utcMs: hour * HOUR_MS, count: inOrder.filter((c) => hourOf(c) === hour).length })
  const sent = inOrder.map((c) => c.transmissions).filter((n) => n > 0)
  return {
    contacts: inOrder.length,
    stations: new Set(inOrder.map((c) => c.call)).size,
    perHour,
    bestHour: perHour.reduce((best, { count }) => Math.max(best, count), 0),
    farthest: distances[0],
    medianDistanceKm: median(distances.map((d) => d.distanceKm)),
    medianTimeOffsetS: median(inOrder.flatMap((c) => (c.timeOffsetS === null ? [] : [c.timeOffsetS]))),
    transmissionsPerContact: sent.length > 0 ? sent.reduce((a, b) => a + b) / sent.length : undefined,
    withRepeats: sent.length > 0 ? sent.filter((n) => n > FEWEST_TRANSMISSIONS).length / sent.length : undefined,
  }
}

function median(values: readonly number[]): number | undefined {
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  if (sorted.length === 0) return undefined
  return sorted.length % 2 === 1 ? sorted[middle] : (sorted[middle - 1]! + sorted[middle]!) / 2
}

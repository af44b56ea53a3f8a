import type { Activation, CountedContact } from './activation'

/** How an activation stands. */
export interface ActivationProgress {
  /** Each station once per band, mode and UTC day: what most programmes count. */
  counted: number
  /** Contacts beyond that. */
  repeats: number
  goal: number
  reached: boolean
  /** With stations at a reference of their own. */
  betweenReferences: number
  perBand: { name: string; count: number }[]
  perDay: { name: string; count: number }[]
  /** Contacts per hour over the last hour, or since the first one. */
  ratePerHour: number | undefined
  /** When the goal will be reached at that rate, with the range that its chance leaves. */
  projection: { utcMs: number; earliestUtcMs: number; latestUtcMs: number } | undefined
  /** When it was reached. */
  reachedUtcMs: number | undefined
}

const HOUR_MS = 3_600_000
/** With fewer contacts than this a rate says nothing. */
const FEWEST_FOR_RATE = 3
/** A projection further away than this is none. */
const FARTHEST_MS = 48 * HOUR_MS

/** What makes a contact count again. */
function countKey({ call, band, mode, startedUtcMs }: CountedContact): string {
  return `${call} ${band ?? '?'} ${mode} ${new Date(startedUtcMs).toISOString().slice(0, 10)}`
}

/**
 * Judges how an activation stands.
 * @param contacts all of it, in any order
 */
export function judgeActivation(activation: Activation, contacts: readonly CountedContact[], nowUtcMs: number): ActivationProgress {
  const seen = new Set<string>()
  const counted: CountedContact[] = []
  const inOrder = [...contacts].sort((a, b) => a.endedUtcMs - b.endedUtcMs)
  for (const contact of inOrder) {
    const key = countKey(contact)
    if (seen.has(key)) continue
    seen.add(key)
    counted.push(contact)
  }
  const reached = counted.length >= activation.goal
  const ratePerHour = rateOf(counted, nowUtcMs)
  return {
    counted: counted.length,
    repeats: contacts.length - counted.length,
    goal: activation.goal,
    reached,
    betweenReferences: counted.filter((c) => c.otherReference).length,
    perBand: tally(counted, (c) => c.band ?? 'no band'),
    perDay: tally(counted, (c) => new Date(c.startedUtcMs).toISOString().slice(0, 10)),
    ratePerHour: ratePerHour?.perHour,
    projection: reached || !ratePerHour ? undefined : project(activation.goal - counted.length, ratePerHour, nowUtcMs),
    reachedUtcMs: reached ? counted[activation.goal - 1]!.endedUtcMs : undefined,
  }
}

function tally(contacts: readonly CountedContact[], nameOf: (c: CountedContact) => string): { name: string; count: number }[] {
  const counts = new Map<string, number>()
  for (const contact of contacts) counts.set(nameOf(contact), (counts.get(nameOf(contact)) ?? 0) + 1)
  return [...counts].map(([name, count]) => ({ name, count })).sort((a, b) => (a.name < b.name ? -1 : 1))
}

interface Rate {
  perHour: number
  /** Contacts that it rests on. */
  contacts: number
}

function rateOf(counted: readonly CountedContact[], nowUtcMs: number): Rate | undefined {
  const lately = counted.filter((c) => nowUtcMs - c.endedUtcMs <= HOUR_MS)
  if (lately.length < FEWEST_FOR_RATE) return undefined
  const sinceFirst = nowUtcMs - lately[0]!.endedUtcMs
  // The first contact began the count: it does not belong to the time after it.
  const hours = Math.max(sinceFirst, 60_000) / HOUR_MS
  return { perHour: (lately.length - 1) / hours, contacts: lately.length - 1 }
}

/** Counts scatter by their root: two of three times the truth lies within the range given. */
function project(remaining: number, { perHour, contacts }: Rate, nowUtcMs: number): ActivationProgress['projection'] {
  const after = (rate: number) => nowUtcMs + (remaining / rate) * HOUR_MS
  const spread = Math.sqrt(1 / contacts + 1 / remaining)
  const utcMs = after(perHour)
  if (utcMs - nowUtcMs > FARTHEST_MS) return undefined
  return { utcMs, earliestUtcMs: after(perHour * (1 + spread)), latestUtcMs: after(perHour / (1 + spread)) }
}

import { independent, type Drift } from './driftEstimate'
import { CLOCK_KIND_WORDS, type ClockReading, type ClockSourceKind } from './clockReading'

/** What one source says at this moment, carried on from its readings by the drift. */
export interface SourceEstimate {
  source: string
  kind: ClockSourceKind
  label: string
  latest: ClockReading
  ageMs: number
  /** UTC minus the monotonic clock. */
  offsetMs: number
  /** 95 % half-width. */
  uncertaintyMs: number
  /** Mean age of the readings, as weighted. */
  driftAgeMs: number
  readings: number
}

/**
 * How a source stands to the timebase. `offered` waits to be told (the band, before the operator follows it);
 * `doubtful` says itself that it should not be followed.
 */
export type Standing = 'used' | 'disagrees' | 'offered' | 'doubtful' | 'leftOut' | 'old'

export interface Consensus {
  offsetMs: number
  uncertaintyMs: number
  driftAgeMs: number
  members: readonly string[]
  /** Kind of the member that counts most. */
  kind: ClockSourceKind
  /** True when sources contradict one another and no majority decides: the operator has to. */
  undecided: boolean
  /** Set when one source alone would move the clock so far that a second one, or the operator, has to agree. */
  unwitnessed?: { label: string; byMs: number }
}

export interface SourceChoices {
  /** The one source that the operator decided for. */
  preferred?: string | undefined
  leftOut: readonly string[]
  /** Sources that wait to be told and have been. */
  followed: readonly string[]
}

/** These are followed only when the operator says so. */
const WAIT_TO_BE_TOLD: readonly ClockSourceKind[] = ['band', 'server']
/** A source that could be wrong by more is of no use for slots of 15 s. */
const TOO_UNCERTAIN_MS = 7000

/** Carries one source's readings on to an instant: independent ones, weighted by their errors and age. */
export function estimateSource(readings: readonly ClockReading[], drift: Drift, monotonicMs: number): SourceEstimate | undefined {
  const latest = readings[readings.length - 1]
  if (!latest) return undefined
  const usable = latest.doubt === undefined ? readings.filter((r) => r.doubt === undefined) : readings
  let weights = 0
  let sum = 0
  let ages = 0
  const base = latest.utcMs - latest.monotonicMs
  const ppm = Math.hypot(drift.uncertaintyPpm, drift.wanderPpm) / 2
  for (const r of independent(usable)) {
    const ageMs = monotonicMs - r.monotonicMs
    const sigma = Math.hypot(Math.max(r.randomMs, 0.5) / 2, ageMs * ppm * 1e-6)
    const weight = 1 / sigma ** 2
    weights += weight
    ages += weight * ageMs
    sum += weight * (r.utcMs - r.monotonicMs - base + ageMs * drift.ppm * 1e-6)
  }
  const driftAgeMs = ages / weights
  // The drift's own error moves all older readings the same way: averaging does not help against it.
  const randomMs = Math.hypot(2 / Math.sqrt(weights), driftAgeMs * drift.uncertaintyPpm * 1e-6)
  return {
    source: latest.source,
    kind: latest.kind,
    label: latest.label,
    latest,
    ageMs: monotonicMs - latest.monotonicMs,
    offsetMs: base + sum / weights,
    uncertaintyMs: Math.hypot(randomMs, latest.biasMs),
    driftAgeMs,
    readings: readings.length,
  }
}

/** Why a source has no voice, or undefined when it has one. */
function unheard(e: SourceEstimate, choices: SourceChoices): Standing | undefined {
  if (choices.leftOut.includes(e.source)) return 'leftOut'
  if (choices.preferred === e.source) return undefined
  if (e.latest.doubt !== undefined) return 'doubtful'
  if (e.uncertaintyMs > TOO_UNCERTAIN_MS) return 'old'
  if (WAIT_TO_BE_TOLD.includes(e.kind) && !choices.followed.includes(e.source)) return 'offered'
  return undefined
}

const overlap = (a: SourceEstimate, b: SourceEstimate) => Math.abs(a.offsetMs - b.offsetMs) <= a.uncertaintyMs + b.uncertaintyMs

/**
 * Finds the largest set of sources whose intervals all share an instant. A liar stands outside it. When two sets are
 * equally large, the operator's decision counts, then who was followed before; a newcomer that contradicts is shown, not obeyed.
 */
export function findConsensus(
  estimates: readonly SourceEstimate[],
  choices: SourceChoices,
  before: readonly string[],
): Consensus | undefined {
  const voices = estimates.filter((e) => unheard(e, choices) === undefined)
  if (voices.length === 0) return undefined
  const preferred = voices.find((e) => e.source === choices.preferred)
  // The largest common set always holds one interval's lower end: Marzullo's observation.
  const sets = voices.map((e) => {
    const at = e.offsetMs - e.uncertaintyMs
    return voices.filter((o) => o.offsetMs - o.uncertaintyMs <= at + 1e-9 && o.offsetMs + o.uncertaintyMs >= at - 1e-9)
  })
  const most = Math.max(...sets.map((s) => s.length))
  const largest = sets.filter((s) => s.length === most)
  const known = (set: readonly SourceEstimate[]) => set.filter((e) => before.includes(e.source)).length
  const sharpest = (set: readonly SourceEstimate[]) => Math.min(...set.map((e) => e.uncertaintyMs))
  const chosen = preferred
    ? voices.filter((e) => overlap(e, preferred))
    : [...largest].sort((a, b) => known(b) - known(a) || sharpest(a) - sharpest(b))[0]!
  // Several largest sets may differ by a member only; they contradict when some two of their members do not overlap.
  const contradicted = voices.some((e) => !chosen.includes(e) && !chosen.some((m) => overlap(e, m)))
  const outvoted = chosen.length > voices.length - chosen.length
  return {
    // A source that was decided for is obeyed, not averaged with others.
    ...combine(preferred ? [preferred] : chosen),
    members: chosen.map((e) => e.source),
    undecided: contradicted && !preferred && !outvoted,
  }
}

/** The weighted mean of agreeing sources. Their shared errors may be alike, so it counts as no better than two thirds of the best. */
function combine(members: readonly SourceEstimate[]): Pick<Consensus, 'offsetMs' | 'uncertaintyMs' | 'driftAgeMs' | 'kind'> {
  const best = members.reduce((a, b) => (b.uncertaintyMs < a.uncertaintyMs ? b : a))
  let weights = 0
  let sum = 0
  for (const e of members) {
    const weight = 1 / Math.max(0.5, e.uncertaintyMs) ** 2
    weights += weight
    sum += weight * (e.offsetMs - best.offsetMs)
  }
  return {
    offsetMs: best.offsetMs + sum / weights,
    uncertaintyMs: Math.max(1 / Math.sqrt(weights), best.uncertaintyMs / 1.5),
    driftAgeMs: best.driftAgeMs,
    kind: best.kind,
  }
}

/** How each source stands to what is followed. */
export function standingOf(estimate: SourceEstimate, consensus: Consensus | undefined, choices: SourceChoices): Standing {
  const silent = unheard(estimate, choices)
  if (silent) return silent
  return consensus?.members.includes(estimate.source) ? 'used' : 'disagrees'
}

/** Words for a contradiction by nearly a whole number of seconds, the mark of unknown leap seconds; undefined otherwise. */
export function wholeSecondsApart(a: SourceEstimate, b: SourceEstimate): string | undefined {
  if (a.kind !== 'gps' && b.kind !== 'gps') return undefined
  const apartMs = a.offsetMs - b.offsetMs
  const seconds = Math.round(apartMs / 1000)
  if (seconds === 0 || Math.abs(seconds) > 20 || Math.abs(apartMs - 1000 * seconds) > a.uncertaintyMs + b.uncertaintyMs + 30)
    return undefined
  return `${CLOCK_KIND_WORDS[a.kind]} and ${CLOCK_KIND_WORDS[b.kind]} are ${Math.abs(seconds)} whole seconds apart: the receiver may not know the leap seconds yet; it learns them from the satellites within a quarter of an hour.`
}

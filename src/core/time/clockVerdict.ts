import { formatClockError } from './clockError'
import { unwitnessedWords, type ClockState } from './clockState'
import { goodUntilUtcMs, uncertaintyAt, utcAt } from './timebase'

/** What the band says of the clock, as far as the verdict needs it. */
export interface BandOpinion {
  offsetMs: number
  uncertaintyMs: number
  stations: number
}

export type ClockVerdictKind = 'simulated' | 'contradiction' | 'good' | 'fair' | 'poor' | 'off' | 'unknown'

export interface ClockVerdict {
  kind: ClockVerdictKind
  /** The answer in one sentence. */
  sentence: string
  /** The same for a narrow place. */
  short: string
  /** How fast the clock is as far as known; undefined when nobody knows. */
  errorMs: number | undefined
  uncertaintyMs: number | undefined
  goodUntilUtcMs: number | undefined
  /** How many stations say so, when it is the band that does. */
  stations?: number
}

/** Contacts are lost from about here on. */
const OFF_MS = 300
/** Up to this nothing is to be done. */
const GOOD_MS = 200
const FAIR_MS = 500
/** Nearer than this a clock is on time. */
const ON_TIME_MS = 5

const plusMinus = (ms: number) => `±${ms < 9995 ? (ms / 1000).toFixed(2) : Math.round(ms / 1000)} s`

/** A time of day in UTC, with the date when it is not within a day. @example formatUntil(t, now) // '16:40' */
export function formatUntil(utcMs: number, nowUtcMs: number): string {
  if (!Number.isFinite(utcMs) || utcMs - nowUtcMs > 30 * 86_400_000) return 'for weeks'
  const iso = new Date(utcMs).toISOString()
  return utcMs - nowUtcMs < 86_400_000 ? iso.slice(11, 16) : `${iso.slice(0, 10)} ${iso.slice(11, 16)}`
}

/** Judges the clock: how far off, how sure, how long still good. */
export function judgeClock(state: ClockState, monotonicMs: number, band?: BandOpinion): ClockVerdict {
  const { timebase, consensus, waitingMs } = state
  const nowUtcMs = utcAt(timebase, monotonicMs)
  const uncertaintyMs = uncertaintyAt(timebase, nowUtcMs)
  const none = { errorMs: undefined, uncertaintyMs: undefined, goodUntilUtcMs: undefined }
  if (timebase.source === 'practice')
    return {
      ...none,
      kind: 'simulated',
      sentence: 'A practice band or a recording keeps its own time; your clock is untouched.',
      short: 'simulated',
    }
  if (consensus?.undecided)
    return {
      ...none,
      kind: 'contradiction',
      uncertaintyMs,
      sentence: consensus.unwitnessed
        ? unwitnessedWords(consensus.unwitnessed)
        : 'Sources of time contradict each other: choose one below.',
      short: consensus.unwitnessed ? 'one source, not followed' : 'sources disagree',
    }
  const bandApart = band && Math.abs(band.offsetMs) > band.uncertaintyMs + (uncertaintyMs ?? 0)
  if (band && (uncertaintyMs === undefined || (bandApart && Math.abs(band.offsetMs) > OFF_MS))) {
    const error = Math.abs(band.offsetMs) < ON_TIME_MS ? 'On time' : formatClockError(band.offsetMs)
    return {
      kind: Math.abs(band.offsetMs) > OFF_MS ? 'off' : 'fair',
      sentence: `${error}, ${plusMinus(band.uncertaintyMs)}, say ${band.stations} stations.`,
      short: `${formatClockError(band.offsetMs)} ${plusMinus(band.uncertaintyMs)}`,
      errorMs: band.offsetMs,
      uncertaintyMs: band.uncertaintyMs,
      goodUntilUtcMs: undefined,
      stations: band.stations,
    }
  }
  if (uncertaintyMs === undefined)
    return {
      ...none,
      kind: 'unknown',
      sentence: 'This clock comes from the computer; how far off it is, nobody knows yet.',
      short: 'not checked',
    }
  const errorMs = waitingMs === 0 ? 0 : -waitingMs
  const untilMs = goodUntilUtcMs(timebase, FAIR_MS) ?? goodUntilUtcMs(timebase, 1000)
  const error = Math.abs(errorMs) < ON_TIME_MS ? 'On time' : formatClockError(errorMs)
  const rest =
    waitingMs !== 0
      ? ', put right when this slot ends'
      : untilMs === undefined
        ? ', too unsure for a slot: find a better source'
        : `, good until ${formatUntil(untilMs, nowUtcMs)}`
  return {
    kind: Math.abs(errorMs) > OFF_MS ? 'off' : uncertaintyMs <= GOOD_MS ? 'good' : uncertaintyMs <= FAIR_MS ? 'fair' : 'poor',
    sentence: `${error}, ${plusMinus(uncertaintyMs)}${rest}.`,
    short: `${Math.abs(errorMs) < ON_TIME_MS ? '' : `${formatClockError(errorMs)} `}${plusMinus(uncertaintyMs)}${waitingMs === 0 && untilMs !== undefined ? ` to ${formatUntil(untilMs, nowUtcMs)}` : ''}`,
    errorMs,
    uncertaintyMs,
    goodUntilUtcMs: untilMs,
  }
}

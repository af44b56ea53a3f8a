import { pairwiseMedian, weightedMedian } from './weightedMedian'

/** One station's time offset as decoded. */
export interface OffsetReading {
  call: string
  timeOffsetS: number
  snrDb: number
}

export interface BandClockEstimate {
  /** Middle of the stations' time offsets; positive when they seem late, which means this clock is fast. */
  offsetMs: number
  /** Half-width of the 95 % interval, never below what the reading of one decode allows. */
  uncertaintyMs: number
  /** Spread of the stations about their middle (standard deviation, outliers left out). */
  spreadMs: number
  stations: number
  /** Stations whose own clock stands apart from the rest. */
  outliers: readonly string[]
}

const FEWEST_STATIONS = 3
const READING_ERROR_MS = 15
/** How far people's clocks usually scatter, and how many stations it takes to outweigh that. */
const USUAL_SPREAD_MS = 180
const USUAL_WEIGHT = 4
const USUAL_WEIGHT_OF_ERROR = 2
const ROUNDS = 4
/** More stations would not make it better, only slower; the strongest are taken. */
const MOST_STATIONS = 120

interface StationOffset {
  call: string
  offsetMs: number
  weight: number
}

/**
 * Judges this clock by other people's: the middle over stations (each with one voice, weighted by strength) of the
 * decoded time offsets. Stations far from the rest are told apart first, and the middle of the others is the median of
 * their pairwise means, which the few whose clocks are badly off cannot move.
 * @returns undefined with fewer than three stations
 */
export function estimateFromBand(readings: readonly OffsetReading[]): BandClockEstimate | undefined {
  const stations = oneVoiceEach(readings)
  if (stations.length < FEWEST_STATIONS) return undefined
  let offsetMs = weightedMedian(stations.map((s) => ({ value: s.offsetMs, weight: s.weight })))
  let kept = stations
  let roughSpreadMs = USUAL_SPREAD_MS
  const limitMs = () => Math.max(2.8 * roughSpreadMs, 150)
  for (let round = 0; round < ROUNDS; round++) {
    const deviations = stations.map((s) => ({ value: Math.abs(s.offsetMs - offsetMs), weight: s.weight }))
    // 1.4826 turns a median absolute deviation into a standard deviation; a few stations alone cannot tell it well.
    const measuredMs = 1.4826 * weightedMedian(deviations)
    roughSpreadMs = Math.sqrt((stations.length * measuredMs ** 2 + USUAL_WEIGHT * USUAL_SPREAD_MS ** 2) / (stations.length + USUAL_WEIGHT))
    const within = stations.filter((s) => Math.abs(s.offsetMs - offsetMs) <= limitMs())
    if (within.length < 2) break
    kept = within
    offsetMs = pairwiseMedian(kept.map((s) => ({ value: s.offsetMs, weight: s.weight })))
  }
  const total = kept.reduce((sum, s) => sum + s.weight, 0)
  const spreadMs = Math.max(
    1.4826 * weightedMedian(kept.map((s) => ({ value: Math.abs(s.offsetMs - offsetMs), weight: s.weight }))),
    Math.sqrt(
      (kept.reduce((sum, s) => sum + s.weight * (s.offsetMs - offsetMs) ** 2, 0) / total) * (kept.length / Math.max(1, kept.length - 1)),
    ),
  )
  // Unequal weights count as fewer stations.
  const effective = total ** 2 / kept.reduce((sum, s) => sum + s.weight ** 2, 0)
  // With few stations their spread is itself badly known, which Student's factor allows for; and that a few agree by chance
  // says little, so that how people's clocks usually scatter is counted with them.
  const student = 2 + 4.6 / Math.max(1, effective - 1)
  const believedMs = Math.sqrt(
    (effective * spreadMs ** 2 + USUAL_WEIGHT_OF_ERROR * USUAL_SPREAD_MS ** 2) / (effective + USUAL_WEIGHT_OF_ERROR),
  )
  return {
    offsetMs,
    uncertaintyMs: Math.max(READING_ERROR_MS, (student * 1.05 * believedMs) / Math.sqrt(effective)),
    spreadMs,
    stations: stations.length,
    outliers: stations.filter((s) => Math.abs(s.offsetMs - offsetMs) > limitMs()).map((s) => s.call),
  }
}

function oneVoiceEach(readings: readonly OffsetReading[]): StationOffset[] {
  const byCall = new Map<string, OffsetReading[]>()
  for (const reading of readings) {
    const list = byCall.get(reading.call)
    if (list) list.push(reading)
    else byCall.set(reading.call, [reading])
  }
  return [...byCall]
    .map(([call, list]) => ({
      call,
      offsetMs: 1000 * weightedMedian(list.map((r) => ({ value: r.timeOffsetS, weight: 1 }))),
      weight: 1 / (1 + 10 ** (-(Math.max(...list.map((r) => r.snrDb)) + 24) / 10)),
    }))
    .sort((a, b) => b.weight - a.weight)
    .slice(0, MOST_STATIONS)
}

/** Whose clock moved between two stretches of listening. */
export type WhoseClock = 'mine' | 'theirs' | 'nobody'

const MOVED_MS = 120

/**
 * Tells one's own clock from other people's: when most stations heard in both stretches moved together, it was this clock
 * (or the device slept); when single ones moved, it was theirs.
 * @param shiftLimitMs smaller movements count as none
 */
export function whoseClockMoved(
  before: readonly OffsetReading[],
  now: readonly OffsetReading[],
  shiftLimitMs = MOVED_MS,
): { whose: WhoseClock; byMs: number; calls: readonly string[] } {
  const earlier = new Map(oneVoiceEach(before).map((s) => [s.call, s.offsetMs]))
  const shifts = oneVoiceEach(now).flatMap((s) => {
    const was = earlier.get(s.call)
    return was === undefined ? [] : [{ call: s.call, byMs: s.offsetMs - was, weight: s.weight }]
  })
  if (shifts.length === 0) return { whose: 'nobody', byMs: 0, calls: [] }
  const commonMs = weightedMedian(shifts.map((s) => ({ value: s.byMs, weight: s.weight })))
  const together = shifts.filter((s) => Math.abs(s.byMs - commonMs) <= shiftLimitMs)
  if (shifts.length >= FEWEST_STATIONS && Math.abs(commonMs) > shiftLimitMs && together.length >= 0.7 * shifts.length)
    return { whose: 'mine', byMs: commonMs, calls: together.map((s) => s.call) }
  const moved = shifts.filter((s) => Math.abs(s.byMs) > shiftLimitMs)
  return moved.length > 0
    ? { whose: 'theirs', byMs: weightedMedian(moved.map((s) => ({ value: s.byMs, weight: s.weight }))), calls: moved.map((s) => s.call) }
    : { whose: 'nobody', byMs: 0, calls: [] }
}
